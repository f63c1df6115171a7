import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { plural } from '@old-echo/core/phrases/format-value';
import { compileScope, safeStrips } from '@old-echo/core/recall/compile-scope';
import { setSafe } from '@old-echo/core/recall/edit-safes';

import { MembersSheet } from '../components/group-members-sheet';
import { SaveFrom } from '../components/presets/save-preset-sheet';
import { useDeskProduction } from '../components/use-desk-production';
import { deskHref } from '../store/desk-address';
import { useEditDeskMutation } from '../store/desk-api';
import { chosen, cleared, toggled } from '../store/selection-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { type LiveDesk, whyLocked, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { focusedId } from '../ui/focus-registry';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { HoldScopeSheet } from './hold-scope-sheet';
import { canRename, RenameStripSheet } from './rename-strip-sheet';
import { RestoreSelectedSheet } from './restore-selected-sheet';

interface SelectionBarProps {
  readonly now: LiveDesk;
  /** The strips in the list below. */
  readonly shown: readonly string[];
}

/** Says how many strips are picked out, and what can be done with them; the key x picks the strip that is marked. */
export function SelectionBar({ now, shown }: SelectionBarProps) {
  const look = useLook();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const [open, setOpen] = useState<'actions' | 'restore' | 'hold' | 'group' | 'save' | 'rename' | null>(null);
  const selected = useAppSelector((root) => root.selection.strips);
  const count = selected.length;
  const then = (act: () => void) => () => {
    setOpen(null);
    act();
  };
  const close = () => setOpen(null);
  const done = useRunAndNotify();
  const [edit] = useEditDeskMutation();
  const { desk, profile } = now;
  const allSafe = useMemo(() => {
    const safe = new Set(safeStrips(compileScope(profile, [], desk.safes)));
    return selected.every((strip) => safe.has(strip));
  }, [profile, desk.safes, selected]);
  const makeSafe = (held: boolean) => {
    const safes = selected.reduce((before, strip) => setSafe(profile, before, { strip }, held), desk.safes);
    void done(edit({ id: desk.id, edit: { safes: [...safes] } }), () =>
      held ? `${plural(count, 'strip')} safe.` : `${plural(count, 'strip')} no longer safe.`,
    );
  };
  const choose = (strips: readonly string[]) => dispatch(chosen(strips));
  const production = useDeskProduction(now.desk);
  useShortcuts({
    x: () => {
      const marked = focusedId('strip');
      if (marked) dispatch(toggled(marked));
    },
    ...(count > 0 ? { Escape: () => void dispatch(cleared()) } : {}),
  });
  if (count === 0) return null;
  return (
    <View style={[styles.bar, { backgroundColor: look.wash }]}>
      <AppText kind="strong" style={styles.fill} numberOfLines={1} role="status">
        {count} selected
      </AppText>
      {production ? (
        <Action
          asks={DESK_RECALL_ROUTES.startRestore}
          kind="quiet"
          title="From a scene …"
          onPress={() => setOpen('restore')}
        />
      ) : null}
      <Action kind="quiet" title="Actions …" onPress={() => setOpen('actions')} />
      <Action kind="quiet" title="Clear" onPress={() => dispatch(cleared())} />
      <Sheet title={`Actions for ${plural(count, 'strip')}`} open={open === 'actions'} onClose={close}>
        {count === 1 ? (
          <MenuRow
            asks={DESK_ROUTES.moveSettings}
            title="Name and colour"
            under="On the desk, at once"
            disabled={
              !canRename(now, selected[0] ?? '') &&
              (whyLocked(now.desk) || whyNotLinked(now) || 'This desk gives it its name.')
            }
            onPress={then(() => setOpen('rename'))}
          />
        ) : null}
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Move them together"
          under="Opens one of them; the others follow what you move there"
          onPress={then(() => router.navigate(`/desk/${now.desk.id}/strip/${selected[0]}`))}
        />
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Edit selected strips"
          under="To the same value, or by the same step"
          onPress={then(() => router.navigate(deskHref(now.desk.id, 'edit-strips')))}
        />
        <MenuRow
          asks={DESK_RECALL_ROUTES.startRestore}
          title="Step through scenes with only these …"
          under="Some sections of them, held while you compare scenes"
          onPress={then(() => setOpen('hold'))}
        />
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Apply a preset to all of them"
          under="The same EQ, the same insert, everywhere"
          onPress={then(() => router.navigate('/library'))}
        />
        <MenuRow
          asks={DESK_ROUTES.editDesk}
          title={allSafe ? 'Let them follow restores again' : 'Never bring them back'}
          under="Safe as a whole: no restore touches a safe strip"
          disabled={whyLocked(now.desk)}
          onPress={then(() => makeSafe(!allSafe))}
        />
        <MenuRow
          asks={PRESET_ROUTES.savePreset}
          title="Save them to the library"
          under="As a strip set, with what they feed"
          onPress={then(() => setOpen('save'))}
        />
        <MenuRow
          title="Select all in the list"
          under={plural(shown.length, 'strip')}
          onPress={then(() => choose([...new Set([...selected, ...shown])]))}
        />
        <MenuRow
          title="Select all but these"
          under="Of the strips in the list"
          onPress={then(() => choose(shown.filter((strip) => !selected.includes(strip))))}
        />
        <MenuRow title="Select a DCA or group …" onPress={then(() => setOpen('group'))} />
      </Sheet>
      <MembersSheet title="Select the strips in" now={now} open={open === 'group'} onClose={close} onChoose={choose} />
      {production ? (
        <RestoreSelectedSheet
          now={now}
          production={production}
          strips={selected}
          open={open === 'restore'}
          onClose={close}
        />
      ) : null}
      {open === 'rename' ? <RenameStripSheet now={now} strip={selected[0] ?? ''} onClose={close} /> : null}
      {open === 'hold' ? <HoldScopeSheet now={now} onClose={close} /> : null}
      <SaveFrom
        profile={now.profile}
        state={now.state}
        madeOn={now.desk.name}
        strips={now.profile.strips.filter((strip) => selected.includes(strip))}
        open={open === 'save'}
        onClose={close}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: SPACE.l, minHeight: TOUCH },
  fill: { flex: 1, minWidth: 0 },
});
