import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { capitalise, joinWithAnd, plural, sectionName } from '@old-echo/core/phrases/format-value';
import { compileScope, safeStrips } from '@old-echo/core/recall/compile-scope';
import { holdFamily, holdSection, isFamilySafe, isSectionSafe } from '@old-echo/core/recall/edit-many-safes';
import type { Safes } from '@old-echo/core/recall/scope-rules';
import { choosableSections } from '@old-echo/core/recall/scope-selection';

import { CheckRow } from '../components/check-row';
import { useEditDeskMutation, useProfileQuery } from '../store/desk-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

/** What never comes back on a desk, set once: sections on every strip, and whole families; single strips are set where they are. */
export function DeskSafesSheet({ desk, onClose }: { readonly desk: DeskView; readonly onClose: () => void }) {
  const done = useRunAndNotify();
  const [edit] = useEditDeskMutation();
  const profile = useProfileQuery(desk.profileId).data;
  if (!profile) return null;
  const safe = safeStrips(compileScope(profile, [], desk.safes));
  const families = profile.families.filter(({ id }) => id !== GLOBAL_FAMILY);
  const single = families
    .flatMap(({ id, strips }) => (isFamilySafe(desk.safes, id) ? [] : strips))
    .filter((strip) => safe.includes(strip));
  const save = (safes: Safes, what: string, held: boolean) =>
    void done(edit({ id: desk.id, edit: { safes: [...safes] } }), () =>
      held ? `${what}: safe on ${desk.name}.` : `${what}: restored again.`,
    );
  return (
    <Sheet title={`${desk.name}: what never comes back`} open onClose={onClose}>
      <View style={styles.sheet}>
        <AppText tone="second">
          {desk.showLock
            ? 'The show is locked: safes stay as they are.'
            : 'No restore touches what is safe, whatever the recall scope; no swap does either.'}
        </AppText>
        <AppText kind="heading">On every strip</AppText>
        {choosableSections(profile).map((section) => {
          const held = isSectionSafe(desk.safes, section);
          return (
            <CheckRow
              key={section}
              name={sectionName(section)}
              under=""
              tick={held ? 'all' : 'none'}
              testID={`safe-section-${section}`}
              onPress={() => save(holdSection(desk.safes, section, !held), sectionName(section), !held)}
            />
          );
        })}
        <AppText kind="heading">Whole families</AppText>
        {families.map(({ id, name, strips }) => {
          const held = isFamilySafe(desk.safes, id);
          return (
            <CheckRow
              key={id}
              name={name}
              under={plural(strips.length, 'strip')}
              tick={held ? 'all' : 'none'}
              testID={`safe-family-${id}`}
              onPress={() => save(holdFamily(desk.safes, id, !held), name, !held)}
            />
          );
        })}
        <AppText kind="heading">Single strips</AppText>
        <AppText tone="second">
          {single.length > 0
            ? `${capitalise(joinWithAnd(single.map((strip) => profile.plainNames[strip] ?? strip)))} as a whole. `
            : ''}
          Select strips on the desk to make them safe, or let them follow restores again.
        </AppText>
        <Action title="Done" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ sheet: { gap: SPACE.s } });
