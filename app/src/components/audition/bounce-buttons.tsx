import { StyleSheet, View } from 'react-native';

import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { RenderView } from '@old-echo/core/contracts/sound';

import { addressOf } from '../../store/ask';
import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { SPACE } from '../../ui/tokens';
import type { Audition, ListenTarget } from './use-audition';
import { useStemBounce } from './use-stem-bounce';

interface BouncesProps {
  readonly letter: 'A' | 'B';
  readonly view: RenderView;
  /** What it is called, for files. */
  readonly name: string;
  readonly audition: Audition;
  readonly side: ListenTarget;
}

const DEPTHS = ['16', '24', 'float'] as const;
const FLAC_DEPTHS = ['16', '24'] as const;

/** A mix as files: WAV with its loudness, FLAC, and every strip by itself. */
export function BounceButtons({ letter, view, name, audition, side }: BouncesProps) {
  const stems = useStemBounce(audition, side, name);
  const params = { id: view.id };
  return (
    <View style={styles.side} testID={`bounce-${letter}`}>
      <AppText tone={letter === 'A' ? 'a' : 'b'} numberOfLines={1}>
        {letter} {name}
      </AppText>
      <View style={styles.row}>
        {DEPTHS.map((depth) => (
          <Action
            asks={RENDER_ROUTES.bounce}
            key={depth}
            kind="small"
            title={depth === 'float' ? '32-bit float WAV' : `${depth}-bit WAV`}
            onPress={() => window.location.assign(addressOf(RENDER_ROUTES.bounce, { params, query: { depth, name } }))}
          />
        ))}
        {FLAC_DEPTHS.map((depth) => (
          <Action
            asks={RENDER_ROUTES.flacBounce}
            key={depth}
            kind="small"
            title={`${depth}-bit FLAC`}
            onPress={() =>
              window.location.assign(addressOf(RENDER_ROUTES.flacBounce, { params, query: { depth, name } }))
            }
          />
        ))}
        <Action
          kind="small"
          title="Loudness report"
          onPress={() => window.location.assign(addressOf(RENDER_ROUTES.loudnessReport, { params, query: { name } }))}
        />
        {stems.at === null ? (
          <Action asks={RENDER_ROUTES.rendersArchive} kind="small" title="All strips as WAV" onPress={stems.start} />
        ) : (
          <Action kind="small" title={`Strip ${stems.at.done + 1} of ${stems.at.of} – cancel`} onPress={stems.cancel} />
        )}
      </View>
      {stems.fault ? <AppText tone="stop">{stems.fault}</AppText> : null}
    </View>
  );
}

const styles = StyleSheet.create({
  side: { gap: SPACE.s },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: SPACE.s },
});
