import X from 'lucide-react-native/icons/x';

import { plural } from '@old-echo/core/phrases/format-value';

import type { CompareSide } from '../components/use-compare-side';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { IconAction } from '../ui/menu';
import { useComparison } from './use-comparison';

interface OthersProps {
  readonly a: CompareSide;
  readonly sides: readonly (CompareSide | undefined)[];
  readonly at: number;
  readonly onChoose: (at: number) => void;
  readonly onRemove: (at: number) => void;
}

/** What A is compared against, each with how far it is away; one of them is B. */
export function CompareTargets({ a, sides, at, onChoose, onRemove }: OthersProps) {
  const known = sides.flatMap((side, i) => (side ? [{ side, i }] : []));
  if (known.length < 2) return null;
  return (
    <ChipRow>
      {known.length > 1
        ? known.map(({ side, i }) => (
            <CompareTarget key={`${side.of}-${i}`} a={a} side={side} chosen={i === at} onPress={() => onChoose(i)} />
          ))
        : null}
      <IconAction of={X} name="Remove B" onPress={() => onRemove(at)} />
    </ChipRow>
  );
}

function CompareTarget({
  a,
  side,
  chosen,
  onPress,
}: {
  a: CompareSide;
  side: CompareSide;
  chosen: boolean;
  onPress: () => void;
}) {
  const comparison = useComparison(a, side);
  return (
    <Chip
      title={`${side.title}${comparison ? ` · ${plural(comparison.settings, 'setting')}` : ''}`}
      chosen={chosen}
      onPress={onPress}
    />
  );
}
