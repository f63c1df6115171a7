import { createPortal } from 'react-dom';
import { StyleSheet, View } from 'react-native';
import { Snackbar } from 'react-native-paper';

import { dismissed } from '../store/notice-slice';
import { useUndoMutation } from '../store/scenes-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useIsLow } from '../ui/layout';
import { webStyle } from '../ui/web-only';

/** What was just done, with its undo, or why not: over everything, a sheet too, whose buttons may have led to it. */
export function Notice() {
  const dispatch = useAppDispatch();
  const { text, undo, count } = useAppSelector((root) => root.notice);
  const [takeBack] = useUndoMutation();
  const done = useRunAndNotify();
  const low = useIsLow();
  return createPortal(
    <View style={[styles.over, webStyle({ position: 'fixed' })]}>
      <Snackbar
        key={count}
        visible={text !== ''}
        onDismiss={() => dispatch(dismissed())}
        duration={undo ? 10_000 : 5000}
        {...(undo ? { action: { label: 'Undo', onPress: () => void done(takeBack(undo), () => 'Undone.') } } : {})}
        wrapperStyle={[styles.notice, low && styles.lowNotice]}
      >
        {text}
      </Snackbar>
    </View>,
    document.body,
  );
}

const styles = StyleSheet.create({
  over: { left: 0, right: 0, bottom: 0, height: 0 },
  lowNotice: { bottom: 52 },
  notice: { bottom: 124, maxWidth: 560, alignSelf: 'center' },
});
