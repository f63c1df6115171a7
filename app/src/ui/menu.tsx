import type { LucideIcon } from 'lucide-react-native';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import { Pressable, StyleSheet } from 'react-native';

import { AppText } from './app-text';
import { Icon } from './icon';
import { useLook } from './theme';
import { SPACE, TOUCH } from './tokens';
import { useDescription } from './use-description';

interface MenuRowProps {
  readonly title: string;
  /** What it does, or why it cannot be done now. */
  readonly under?: string;
  readonly disabled?: boolean;
  readonly onPress: () => void;
}

/** One thing that can be done, in a sheet. */
export function MenuRow({ title, under, disabled, onPress }: MenuRowProps) {
  const look = useLook();
  const { control, text } = useDescription();
  return (
    <Pressable
      role="button"
      aria-label={title}
      {...(under ? control : {})}
      aria-disabled={disabled === true}
      disabled={disabled === true}
      onPress={onPress}
      style={[styles.row, { borderColor: look.line }]}
    >
      <AppText tone={disabled ? 'second' : 'ink'}>{title}</AppText>
      {under ? (
        <AppText {...text} kind="small" tone="second">
          {under}
        </AppText>
      ) : null}
    </Pressable>
  );
}

interface IconActionProps {
  readonly of: LucideIcon;
  /** What it does, for those who do not see it. */
  readonly name: string;
  readonly onPress: () => void;
  readonly disabled?: boolean;
}

/** A button that is a picture. */
export function IconAction({ of, name, onPress, disabled }: IconActionProps) {
  const look = useLook();
  return (
    <Pressable
      role="button"
      aria-label={name}
      aria-disabled={disabled === true}
      disabled={disabled === true}
      onPress={onPress}
      style={styles.icon}
    >
      <Icon of={of} color={disabled ? look.line : look.ink} />
    </Pressable>
  );
}

/** Opens what else can be done with a thing. */
export const MoreAction = ({ of, onPress }: { readonly of: string; readonly onPress: () => void }) => (
  <IconAction of={Ellipsis} name={`More about ${of}`} onPress={onPress} />
);

const styles = StyleSheet.create({
  row: { minHeight: TOUCH + SPACE.xs, justifyContent: 'center', borderBottomWidth: 1, paddingVertical: SPACE.xs },
  icon: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' },
});
