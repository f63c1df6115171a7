import { StyleSheet, View } from 'react-native';

import type { StripState } from '@old-echo/core/desk/state';
import { capitalise } from '@old-echo/core/phrases/format-value';
import { diffInsertChains, insertChain, type InsertChange } from '@old-echo/core/signal/insert-chain';

import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { CORNER, SPACE } from '../ui/tokens';

/** Two insert chains side by side: what was added, removed, moved or changed on the way from A to B. */
export function InsertChains({ was, now }: { readonly was: StripState; readonly now: StripState }) {
  const [before, after] = [insertChain(was), insertChain(now)];
  if (before.length + after.length === 0) return null;
  const steps = diffInsertChains(before, after);
  return (
    <View style={styles.pair}>
      <Chain letter="A" steps={steps.filter((step) => step.how !== 'added')} place={(step) => step.a} />
      <Chain letter="B" steps={steps.filter((step) => step.how !== 'removed')} place={(step) => step.b} />
    </View>
  );
}

interface ChainProps {
  readonly letter: 'A' | 'B';
  readonly steps: readonly InsertChange[];
  readonly place: (step: InsertChange) => number | undefined;
}

function Chain({ letter, steps, place }: ChainProps) {
  const look = useLook();
  const sorted = [...steps].sort((one, other) => (place(one) ?? 0) - (place(other) ?? 0));
  return (
    <View style={styles.chain}>
      <AppText kind="strong" tone={letter === 'A' ? 'a' : 'b'}>
        {letter}
      </AppText>
      {sorted.length === 0 ? <AppText tone="second">Empty</AppText> : null}
      {sorted.map((step) => (
        <View
          key={`${place(step)}`}
          style={[
            styles.slot,
            { borderColor: step.how === 'same' ? look.line : look.ink },
            step.how === 'removed' && styles.dashed,
          ]}
        >
          <AppText tone={step.on[letter] ? 'ink' : 'second'}>
            {place(step)} {capitalise(step.kind)}
            {step.on[letter] ? '' : ' · off'}
          </AppText>
          {step.how === 'same' ? null : (
            <AppText kind="small" tone="second">
              {step.how}
            </AppText>
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
