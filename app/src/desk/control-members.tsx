import { isControl, type Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';

interface MembersProps {
  readonly profile: Profile;
  readonly state: State;
  readonly strip: string;
}

/** The strips that a DCA or mute group moves; nothing for any other strip. */
export function Members({ profile, state, strip }: MembersProps) {
  if (!isControl(strip)) return null;
  const members = profile.strips.filter((one) => state[one]?.[`routing/${strip}`] === true);
  return (
    <Card>
      <AppText kind="heading">{members.length === 0 ? 'No strips' : plural(members.length, 'strip')}</AppText>
      <AppText tone="second">
        {members.length === 0
          ? 'A strip joins it in its own routing.'
          : members.map((member) => displayName(profile, state, member)).join(', ')}
      </AppText>
    </Card>
  );
}
