import { StyleSheet, View } from 'react-native';

import { cellOf, type Conflict } from '@old-echo/core/combine/merge-states';
import { CONFLICT_RULES, type ConflictRule, resolveConflicts } from '@old-echo/core/combine/resolve-conflicts';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { displayName } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, plural, sectionName } from '@old-echo/core/phrases/format-value';

import type { SceneWithState } from '../store/scenes-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Card, Empty } from '../ui/layout';
import { Option } from '../ui/option';
import { SPACE } from '../ui/tokens';
import type { Combination } from './use-combination';

const RULES: Readonly<Record<ConflictRule, string>> = {
  mine: 'Always A',
  theirs: 'Always B',
  louder: 'Louder one',
  newer: 'Newer one',
};
/** Settings of a conflict that are named; more are counted. */
const NAMED = 3;

interface ConflictsProps {
  readonly combination: Combination;
  readonly onHear: (strip: string) => void;
}

/** Cells that both lines changed to unlike values: each to be settled, or all by a rule. */
export function Conflicts({ combination, onHear }: ConflictsProps) {
  const { profile, base, made, recipe, sources, pick } = combination;
  const theirs = recipe.merge ? sources[recipe.merge.scene] : undefined;
  if (!theirs || made.conflicts.length === 0)
    return <Empty title="Nothing is at odds">Nothing was changed differently in both.</Empty>;
  const line = ({ scene, state }: SceneWithState) => ({ scene: scene.id, state, madeAt: scene.madeAt });
  const by = (rule: ConflictRule) => pick(resolveConflicts(profile, line(base), line(theirs), made.conflicts, rule));
  const open = made.unsettled.length;
  return (
    <View style={styles.list} testID="conflicts">
      <AppText tone="second">
        {open === 0
          ? 'All settled.'
          : `${plural(open, 'section')} at odds. Until settled they stay as in ${sceneTitle(base.scene)}; you can leave and continue later.`}
      </AppText>
      <ChipRow>
        {CONFLICT_RULES.map((rule) => (
          <Action key={rule} kind="small" title={RULES[rule]} onPress={() => by(rule)} />
        ))}
      </ChipRow>
      {made.conflicts.map((conflict) => {
        const cell = cellOf(conflict);
        const chosen = recipe.picks[cell];
        const option = ({ scene }: SceneWithState, letter: string, side: 'was' | 'now') => (
          <Option
            title={`${letter}: ${sceneTitle(scene)}`}
            under={formatSide(profile, conflict, side, combination)}
            chosen={chosen === scene.id}
            onPress={() => pick({ [cell]: scene.id })}
          />
        );
        return (
          <Card key={cell} edge={chosen ? 'done' : 'care'}>
            <View style={styles.row} testID={`conflict-${cell}`}>
              <AppText kind="strong" style={styles.fill}>
                {displayName(profile, base.state, conflict.strip)} · {sectionName(conflict.section)}
              </AppText>
              {conflict.strip.startsWith('in.') ? (
                <Action kind="quiet" title="Solo" onPress={() => onHear(conflict.strip)} />
              ) : null}
            </View>
            <View role="radiogroup">
              {option(base, 'A', 'was')}
              {option(theirs, 'B', 'now')}
            </View>
          </Card>
        );
      })}
    </View>
  );
}

/** A side's values: "−5.0 dB", "Band 2 gain +3.0 dB, Band 3 gain 0.0 dB and 2 more". */
function formatSide(profile: Profile, { changes }: Conflict, side: 'was' | 'now', { base }: Combination): string {
  const one = (address: string, value: Value) => {
    const spec = specOf(profile, address);
    const text = spec ? formatValue(spec, value) : String(value);
    return changes.length > 1 ? `${fullSettingName(profile, address, base.state)} ${text}` : text;
  };
  const named = changes.slice(0, NAMED).map((change) => one(change.address, change[side]));
  const more = changes.length > NAMED ? ` and ${changes.length - NAMED} more` : '';
  return `${named.join(', ')}${more}`;
}

const styles = StyleSheet.create({
  list: { gap: SPACE.m },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  fill: { flex: 1, minWidth: 0 },
});
