import { controlStrips } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import type { LiveDesk } from '../store/use-live-desk';
import { Empty } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';

interface MembersSheetProps {
  readonly title: string;
  readonly now: LiveDesk;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (strips: readonly string[]) => void;
}

/** Chooses the strips that belong to a DCA, a mute group or a group on the desk now. */
export function MembersSheet({ title, now, open, onClose, onChoose }: MembersSheetProps) {
  const { profile, state } = now;
  const groups = profile.families.find(({ id }) => id === 'group')?.strips ?? [];
  const heads = [...controlStrips(profile), ...groups];
  const sets = open
    ? heads
        .map((head) => ({ head, members: profile.strips.filter((s) => state[s]?.[`routing/${head}`] === true) }))
        .filter(({ members }) => members.length > 0)
    : [];
  return (
    <Sheet title={title} open={open} onClose={onClose}>
      {sets.map(({ head, members }) => (
        <MenuRow
          key={head}
          title={displayName(profile, state, head)}
          under={`${profile.plainNames[head]} · ${plural(members.length, 'strip')}: ${members
            .slice(0, 4)
            .map((strip) => displayName(profile, state, strip))
            .join(', ')}${members.length > 4 ? ' …' : ''}`}
          onPress={() => {
            onChoose(members);
            onClose();
          }}
        />
      ))}
      {sets.length === 0 ? (
        <Empty title="No strip is assigned to a DCA or group">Choose the strips themselves instead.</Empty>
      ) : null}
    </Sheet>
  );
}
