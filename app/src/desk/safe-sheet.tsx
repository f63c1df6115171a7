import { sectionOf } from '@old-echo/core/desk/address';
import { stripFamily } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { sectionName, settingName } from '@old-echo/core/phrases/format-value';
import { compileScope, decisionFor } from '@old-echo/core/recall/compile-scope';
import { holdFamily, holdOutput, isFamilySafe, isOutputSafe, sendsInto } from '@old-echo/core/recall/edit-many-safes';
import { type SafeTarget, setSafe } from '@old-echo/core/recall/edit-safes';
import type { Safes } from '@old-echo/core/recall/scope-rules';
import { OUTPUT_FAMILIES } from '@old-echo/core/signal/path-gain';

import { CheckRow } from '../components/check-row';
import { useEditDeskMutation } from '../store/desk-api';
import type { LiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';

interface SafeSheetProps {
  readonly now: LiveDesk;
  readonly strip: string;
  readonly section: string | null;
  readonly onClose: () => void;
}

/** Holds one section of a strip safe from every restore, or single settings of it. */
export function SafeSheet({ now, strip, section, onClose }: SafeSheetProps) {
  const { desk, profile, state } = now;
  const done = useRunAndNotify();
  const [edit] = useEditDeskMutation();
  if (section === null) return null;
  const compiled = compileScope(profile, [], desk.safes);
  const whole = compiled.cells[strip]?.[section] === 'safe';
  const keys = stripFamily(profile, strip)?.keys.filter((key) => sectionOf(key) === section) ?? [];
  const who = displayName(profile, state, strip);
  const family = stripFamily(profile, strip)?.id ?? '';
  const familyName = stripFamily(profile, strip)?.name ?? '';
  const isOutput = sendsInto(profile, strip).length > 0 || OUTPUT_FAMILIES.includes(family);
  const save = (safes: Safes, what: string, held: boolean) =>
    void done(edit({ id: desk.id, edit: { safes: [...safes] } }), () =>
      held ? `${what} safe.` : `${what} no longer safe as a whole.`,
    );
  const set = (at: Omit<SafeTarget, 'strip'>, what: string, held: boolean) =>
    void done(edit({ id: desk.id, edit: { safes: [...setSafe(profile, desk.safes, { strip, ...at }, held)] } }), () =>
      held ? `${who} ${what}: safe.` : `${who} ${what}: follows restores again.`,
    );
  return (
    <Sheet title={`${who}: safes`} open onClose={onClose}>
      <AppText tone="second">No restore touches what is safe, whatever the recall scope.</AppText>
      <CheckRow
        name={`All of ${sectionName(section)}`}
        under=""
        tick={whole ? 'all' : 'none'}
        testID={`safe-${section}`}
        onPress={() => set({ section }, sectionName(section), !whole)}
      />
      {keys.map((key) => {
        const name = settingName(profile, key, state);
        const held = decisionFor(compiled, strip, key) === 'safe';
        return (
          <CheckRow
            key={key}
            indent
            name={name}
            under=""
            tick={held ? 'all' : 'none'}
            testID={`safe-${key}`}
            onPress={() => set({ key }, name, !held)}
          />
        );
      })}
      <AppText kind="heading">More than this section</AppText>
      <CheckRow
        name={`All ${familyName}`}
        under="Every strip of this family, whole"
        tick={isFamilySafe(desk.safes, family) ? 'all' : 'none'}
        testID="safe-family"
        onPress={() => {
          const held = !isFamilySafe(desk.safes, family);
          save(holdFamily(desk.safes, family, held), `${familyName} are`, held);
        }}
      />
      {isOutput ? (
        <CheckRow
          name={`${who}, with all that is sent to it`}
          under="The strip and every send into it"
          tick={isOutputSafe(profile, desk.safes, strip) ? 'all' : 'none'}
          testID="safe-output"
          onPress={() => {
            const held = !isOutputSafe(profile, desk.safes, strip);
            save(holdOutput(profile, desk.safes, strip, held), `${who} with its sends is`, held);
          }}
        />
      ) : null}
      <Action title="Done" onPress={onClose} />
    </Sheet>
  );
}
