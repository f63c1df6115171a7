import { useRouter } from 'expo-router';

import { useBeginCombinationMutation } from '../store/api';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { AppText } from '../ui/app-text';
import { LIVE_DESK } from './links/compare-link';
import type { CompareSide } from './use-compare-side';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { combineHref } from './links/combine-link';

interface BeginSheetProps {
  readonly a: CompareSide;
  readonly b: CompareSide;
  /** The other scenes that A is compared with. */
  readonly others: readonly string[];
  /** The cell that is looked at, and its name. */
  readonly cell: readonly [cell: string, name: string] | null;
  readonly onClose: () => void;
}

/** How to go on from a comparison: take cells of B into A, or bring both lines together. */
export function StartCombineSheet({ a, b, others, cell, onClose }: BeginSheetProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [begin] = useBeginCombinationMutation();
  const go = (base: string, merge: string | null, picks: Readonly<Record<string, string>>) =>
    void done(begin({ base, merge, picks }), () => '').then((made) => {
      if (made)
        router.navigate(
          combineHref(
            made.id,
            others.filter((scene) => scene !== LIVE_DESK && scene !== base),
          ),
        );
    });
  const now = [a, b].some(({ of }) => of === LIVE_DESK);
  return (
    <Sheet title="Combine and share" open onClose={onClose}>
      {now ? (
        <AppText>What is on the desk is no scene yet. Capture it first, then its parts can be taken.</AppText>
      ) : (
        <>
          {cell ? (
            <MenuRow
              title={`Take ${cell[1]} from B`}
              under={`Into ${a.title}; more can be taken next`}
              onPress={() => go(a.of, null, { [cell[0]]: b.of })}
            />
          ) : null}
          <MenuRow
            title="Take parts of B into A"
            under={`${a.title} stays as it is but for what you take of ${b.title}`}
            onPress={() => go(a.of, null, {})}
          />
          <MenuRow
            title="Take parts of A into B"
            under={`${b.title} stays as it is but for what you take of ${a.title}`}
            onPress={() => go(b.of, null, {})}
          />
          {cell ? (
            <MenuRow
              title={`Write ${cell[1]} of B into other scenes`}
              under="As many as you choose, with a preview and one undo"
              onPress={() => {
                onClose();
                router.navigate({ pathname: '/ripple', params: { from: b.of, cells: cell[0] } });
              }}
            />
          ) : null}
          <MenuRow
            title="Bring both together"
            under="What either changed since the scene both come from; you settle what is at odds"
            onPress={() => go(a.of, b.of, {})}
          />
          <MenuRow
            title="Differences on paper"
            under="Strip by strip, in trade units"
            onPress={() => window.open(`/api/sheets/differences?a=${a.of}&b=${b.of}`, '_blank')}
          />
          <MenuRow
            title="Differences as a file"
            under="JSON Patch, from A to B"
            onPress={() => window.location.assign(`/api/sheets/differences.json?a=${a.of}&b=${b.of}`)}
          />
        </>
      )}
    </Sheet>
  );
}
