import { useRouter } from 'expo-router';

import { COMBINATION_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';
import { SHEET_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { RIPPLE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import { addressOf } from '../store/ask';
import { useStartCombinationMutation } from '../store/combine-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { combineHref } from './links/combine-link';
import { LIVE_DESK } from './links/compare-link';
import type { CompareSide } from './use-compare-side';

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
  const [begin] = useStartCombinationMutation();
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
    <Sheet title="Combine, apply, export" open onClose={onClose}>
      {now ? (
        <AppText>The desk as it is now is not a scene yet. Capture it first.</AppText>
      ) : (
        <>
          {cell ? (
            <MenuRow
              asks={COMBINATION_ROUTES.startCombination}
              title={`Take ${cell[1]} from B`}
              under={`Into ${a.title}; more can be taken next`}
              onPress={() => go(a.of, null, { [cell[0]]: b.of })}
            />
          ) : null}
          <MenuRow
            asks={COMBINATION_ROUTES.startCombination}
            title="Take from B into A"
            under={`Starts as ${a.title}; only what you take from ${b.title} changes`}
            onPress={() => go(a.of, null, {})}
          />
          <MenuRow
            asks={COMBINATION_ROUTES.startCombination}
            title="Take from A into B"
            under={`Starts as ${b.title}; only what you take from ${a.title} changes`}
            onPress={() => go(b.of, null, {})}
          />
          {cell ? (
            <MenuRow
              asks={RIPPLE_ROUTES.undoRipple}
              title={`Apply ${cell[1]} of B to other scenes`}
              under="As many as you choose, with a preview and one undo"
              onPress={() => {
                onClose();
                router.navigate({ pathname: '/ripple', params: { from: b.of, cells: cell[0] } });
              }}
            />
          ) : null}
          <MenuRow
            asks={COMBINATION_ROUTES.startCombination}
            title="Combine both"
            under="All changes since their common scene; you settle what is at odds"
            onPress={() => go(a.of, b.of, {})}
          />
          <MenuRow
            title="Print differences"
            under="Strip by strip"
            onPress={() =>
              window.open(addressOf(SHEET_ROUTES.differencesSheet, { query: { a: a.of, b: b.of } }), '_blank')
            }
          />
          <MenuRow
            title="Differences as a file"
            under="JSON Patch, from A to B"
            onPress={() =>
              window.location.assign(addressOf(SHEET_ROUTES.differencesPatch, { query: { a: a.of, b: b.of } }))
            }
          />
        </>
      )}
    </Sheet>
  );
}
