import { sectionOf } from '@old-echo/core/desk/address';
import { stripFamily } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';
import { sectionName, settingName } from '@old-echo/core/desk/wording';
import { compileScope, fateOf } from '@old-echo/core/scope/compile';
import { hold, type Held } from '@old-echo/core/scope/hold';

import type { DeskNow } from '../../live/use-desk';
import { useEditDeskMutation } from '../../store/api';
import { Action } from '../../ui/actions';
import { Sheet } from '../../ui/sheet';
import { Words } from '../../ui/words';
import { TickRow } from '../restore/tick-row';
import { useDo } from '../shell/use-do';

interface SafeSheetProps {
  readonly now: DeskNow;
  readonly strip: string;
  readonly section: string | null;
  readonly onClose: () => void;
}

/** Holds one section of a strip safe from every restore, or single settings of it. */
export function SafeSheet({ now, strip, section, onClose }: SafeSheetProps) {
  const { desk, profile, state } = now;
  const done = useDo();
  const [edit] = useEditDeskMutation();
  if (section === null) return null;
  const compiled = compileScope(profile, [], desk.safes);
  const whole = compiled.cells[strip]?.[section] === 'safe';
  const keys = stripFamily(profile, strip)?.keys.filter((key) => sectionOf(key) === section) ?? [];
  const who = stripName(profile, state, strip);
  const set = (at: Omit<Held, 'strip'>, what: string, held: boolean) =>
    void done(edit({ id: desk.id, edit: { safes: [...hold(profile, desk.safes, { strip, ...at }, held)] } }), () =>
      held ? `${what} of ${who} is safe from every restore.` : `${what} of ${who} can come back again.`,
    );
  return (
    <Sheet title={`${who}: keep safe`} open onClose={onClose}>
      <Words tone="second">What is safe stays as it is, whatever a restore brings back.</Words>
      <TickRow
        name={`All of ${sectionName(section)}`}
        under=""
        tick={whole ? 'all' : 'none'}
        testID={`safe-${section}`}
        onPress={() => set({ section }, sectionName(section), !whole)}
      />
      {keys.map((key) => {
        const name = settingName(profile, key, state);
        const held = fateOf(compiled, strip, key) === 'safe';
        return (
          <TickRow
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
      <Action title="Done" onPress={onClose} />
    </Sheet>
  );
}
