import { StyleSheet, View } from 'react-native';

import { chainOf, chainSteps, type ChainStep } from '@old-echo/core/signal/insert-chain';
import type { StripState } from '@old-echo/core/desk/state';
import { capital } from '@old-echo/core/desk/format-value';

import { useLook } from '../ui/theme';
import { CORNER, SPACE } from '../ui/tokens';
import { Words } from '../ui/app-text';

/** Two insert chains side by side: what was added, removed, moved or changed on the way from A to B. */
export function InsertChains({ was, now }: { readonly was: StripState; readonly now: StripState }) {
  const [before, after] = [chainOf(was), chainOf(now)];
  if (before.length + after.length === 0) return null;
  const steps = chainSteps(before, after);
  return (
    <View style={styles.pair}>
      <Chain letter="A" steps={steps.filter((step) => step.how !== 'added')} place={(step) => step.a} />
      <Chain letter="B" steps={steps.filter((step) => step.how !== 'removed')} place={(step) => step.b} />
    </View>
  );
}

interface ChainProps {
  readonly letter: 'A' | 'B';
  readonly steps: readonly ChainStep[];
  readonly place: (step: ChainStep) => number | undefined;
}

function Chain({ letter, steps, place }: ChainProps) {
  const look = useLook();
  const sorted = [...steps].sort((one, other) => (place(one) ?? 0) - (place(other) ?? 0));
  return (
    <View style={styles.chain}>
      <Words kind="strong" tone={letter === 'A' ? 'a' : 'b'}>
        {letter}
      </Words>
      {sorted.length === 0 ? <Words tone="second">Empty</Words> : null}
      {sorted.map((step) => (
        <View
          key={`${place(step)}`}
          style={[
            styles.slot,
            { borderColor: step.how === 'same' ? look.line : look.ink },
            step.how === 'removed' && styles.dashed,
          ]}
        >
          <Words tone={step.on[letter] ? 'ink' : 'second'}>
            {place(step)} {capital(step.kind)}
            {step.on[letter] ? '' : ' · off'}
          </Words>
          {step.how === 'same' ? null : (
            <Words kind="small" tone="second">
              {step.how}
            </Words>
          )}
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  pair: { flexDirection: 'row', gap: SPACE.m },
  chain: { flex: 1, gap: SPACE.xs },
  slot: {
    flexDirection: 'row',
    justifyContent: 'space-between',
    alignItems: 'center',
    borderWidth: 1,
    borderRadius: CORNER.small,
    padding: SPACE.s,
  },
  dashed: { borderStyle: 'dashed' },
});
