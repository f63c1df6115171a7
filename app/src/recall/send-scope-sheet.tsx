import { sectionOf } from '@old-echo/core/desk/address';
import type { Profile } from '@old-echo/core/desk/profile';
import { stripFamily } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { isSelected, pickSettings, type ScopeSelection } from '@old-echo/core/recall/scope-selection';

import { CheckRow } from '../components/check-row';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';

interface SendsSheetProps {
  readonly profile: Profile;
  readonly names: State;
  readonly choice: ScopeSelection;
  readonly onChoose: (choice: ScopeSelection) => void;
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Chooses to which mixes and effects sends come back, on every strip whose sends do. */
export function SendsSheet({ profile, names, choice, onChoose, open, onClose }: SendsSheetProps) {
  const strips = open ? [...choice.strips].filter((strip) => isSelected(choice, strip, 'sends')) : [];
  const addresses = new Map<string, string[]>();
  for (const strip of strips)
    for (const key of stripFamily(profile, strip)?.keys ?? []) {
      if (sectionOf(key) !== 'sends') continue;
      const to = key.split('/')[1] ?? '';
      addresses.set(to, [...(addresses.get(to) ?? []), `${strip}/${key}`]);
    }
  const all = [...addresses.values()].flat();
  return (
    <Sheet title="Sends in the recall scope" open={open} onClose={onClose}>
      <Action kind="quiet" title="All" onPress={() => onChoose(pickSettings(choice, all, true))} />
      <Action kind="quiet" title="None" onPress={() => onChoose(pickSettings(choice, all, false))} />
      {[...addresses].map(([to, list]) => {
        const out = list.filter((address) => choice.settings.get(address) === false).length;
        return (
          <CheckRow
            key={to}
            name={displayName(profile, names, to)}
            under={profile.plainNames[to] === displayName(profile, names, to) ? '' : (profile.plainNames[to] ?? '')}
            tick={out === 0 ? 'all' : out === list.length ? 'none' : 'some'}
            testID={`send-${to}`}
            onPress={() => onChoose(pickSettings(choice, list, out > 0))}
          />
        );
      })}
      <Action title="Done" onPress={onClose} />
    </Sheet>
  );
}
