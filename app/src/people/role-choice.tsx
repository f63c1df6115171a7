import { View } from 'react-native';

import { type Role, ROLES } from '@old-echo/core/contracts/role';

import { Option } from '../ui/option';
import { ROLE_MEANS, ROLE_NAMES } from './role-words';

interface RoleChoiceProps {
  readonly role: Role;
  readonly onChoose: (role: Role) => void;
}

/** What somebody may do. */
export const RoleChoice = ({ role, onChoose }: RoleChoiceProps) => (
  <View role="radiogroup" aria-label="Role">
    {ROLES.map((one) => (
      <Option
        key={one}
        title={ROLE_NAMES[one]}
        under={ROLE_MEANS[one]}
        chosen={one === role}
        onPress={() => onChoose(one)}
      />
    ))}
  </View>
);
