import { StyleSheet, View } from 'react-native';

import type { Comparison } from '@old-echo/core/compare/compare';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';

import { useSharedAudition } from '../components/audition/audition-context';
import type { CompareSide } from '../components/use-compare-side';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { SPACE } from '../ui/tokens';
import { CellDetail } from './cell-detail';
import { SideButtons } from './decide-bar';
import { usePutOnDesk } from './use-put-on-desk';

interface StripDetailProps {
  readonly profile: Profile;
  readonly a: CompareSide & { readonly state: State };
  readonly b: CompareSide & { readonly state: State };
  readonly comparison: Comparison;
  readonly chosen: Comparison['cells'][number];
  readonly swipe: object;
  readonly onNext: () => void;
  readonly onBefore: () => void;
}

/** Everything that differs on the strip that is looked at, the chosen section first. */
export function StripDetail({ profile, a, b, comparison, chosen, swipe, onNext, onBefore }: StripDetailProps) {
  const desk = usePutOnDesk(a, b);
  const name = displayName(profile, b.state, chosen.strip);
  const own = comparison.cells.filter(({ strip }) => strip === chosen.strip);
  return (
    <View style={styles.detail} {...swipe} testID="detail">
      <View style={styles.row}>
        <AppText kind="title" aria-level={2} style={styles.fill} numberOfLines={1}>
          {name}
        </AppText>
        {chosen.strip.startsWith('in.') ? <Solo strip={chosen.strip} /> : null}
        <Action kind="quiet" title="‹ Previous" onPress={onBefore} />
        <Action kind="quiet" title="Next ›" onPress={onNext} />
      </View>
      {[chosen, ...own.filter((cell) => cell !== chosen)].map((cell) => (
        <CellDetail key={cell.section} profile={profile} a={a.state} b={b.state} cell={cell} />
      ))}
      {desk?.why === null ? (
        <View style={styles.row}>
          <AppText kind="small" tone="second" style={styles.fill}>
            {desk.told || `${desk.isAtOnce ? 'Only' : 'Preview of only'} this strip on ${desk.deskName}, as in`}
          </AppText>
          <SideButtons
            a={a}
            b={b}
            verb={`of ${name} alone on ${desk.deskName}`}
            onPress={(side) => desk.putStrip(side, chosen.strip, name)}
          />
        </View>
      ) : null}
    </View>
  );
}

/** Hears only this strip, in A and in B. */
function Solo({ strip }: { readonly strip: string }) {
  const audition = useSharedAudition();
  const chosen = audition?.heard.solo === strip;
  return <Chip toggle title="Solo" chosen={chosen} onPress={() => audition?.choose({ solo: chosen ? null : strip })} />;
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  detail: { gap: SPACE.m },
});
