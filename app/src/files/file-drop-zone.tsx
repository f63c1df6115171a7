import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { useLook } from '../ui/theme';
import { CORNER, MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useOpenFile } from './use-open-file';

/** Whatever is on the screen, a file that is dragged into the window is looked into. */
export function FileDropZone() {
  const look = useLook();
  const [over, setOver] = useState(false);
  const { taking, take, cancel } = useOpenFile();
  useEffect(() => {
    const holds = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
    const drag = (event: DragEvent) => {
      if (!holds(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      if (!holds(event)) return;
      event.preventDefault();
      setOver(false);
      const file = event.dataTransfer?.files[0];
      if (file) take(file);
    };
    window.addEventListener('dragover', drag);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', drag);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [take]);
  if (!over && !taking) return null;
  return (
    <View style={[styles.card, { backgroundColor: look.card, borderColor: look.ink }]} testID="drop-anywhere">
      {taking ? (
        <>
          <AppText kind="strong">{taking.name}</AppText>
          {taking.why ? (
            <AppText tone="stop">{taking.why}</AppText>
          ) : (
            <ProgressBar accessibilityLabel="Upload" progress={taking.part} />
          )}
          <Action kind="quiet" title={taking.why ? 'Dismiss' : 'Cancel'} onPress={cancel} />
        </>
      ) : (
        <AppText kind="strong">Drop to see what is inside. Nothing is imported yet.</AppText>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  card: {
    position: 'absolute',
    top: SPACE.xl,
    alignSelf: 'center',
    maxWidth: MAX_TEXT_WIDTH,
    borderWidth: 2,
    borderStyle: 'dashed',
    borderRadius: CORNER.large,
    padding: SPACE.l,
    gap: SPACE.s,
  },
});
