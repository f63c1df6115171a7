import type { LucideIcon } from 'lucide-react-native';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import { Pressable, StyleSheet } from 'react-native';

import { type Asking, useIsAllowed } from './allowed';
import { AppText } from './app-text';
import { Icon } from './icon';
import { useLook } from './theme';
import { SPACE, TOUCH } from './tokens';
import { useDescription } from './use-description';
import { type WhyNot, WhyNotAround } from './why-not';

interface MenuRowProps extends Asking {
  readonly title: string;
  /** What it does. */
  readonly under?: string;
  /** Why it cannot be done now: stands in the place of what it does. */
  readonly disabled?: WhyNot;
  readonly onPress: () => void;
}

/** One thing that can be done, in a sheet. */
export function MenuRow({ title, under, disabled, onPress, asks }: MenuRowProps) {
  const isAllowed = useIsAllowed({ asks });
  const look = useLook();
  // It stands among lines that are no sentences.
  const words = disabled ? disabled.replace(/\.$/, '') : under;
  const { control, text } = useDescription();
  if (!isAllowed) return null;
  return (
    <Pressable
      role="button"
      aria-label={title}
      {...(words ? control : {})}
      disabled={Boolean(disabled)}
      onPress={onPress}
      style={[styles.row, { borderColor: look.line }]}
    >
      <AppText tone={disabled ? 'second' : 'ink'}>{title}</AppText>
      {words ? (
        <AppText {...text} kind="small" tone="second">
          {words}
        </AppText>
      ) : null}
    </Pressable>
  );
}

interface IconActionProps extends Asking {
  readonly of: LucideIcon;
  /** What it does, for those who do not see it. */
  readonly name: string;
  readonly onPress: () => void;
  /** Why it cannot be used now; a touch says so. */
  readonly disabled?: WhyNot;
}

/** A button that is a picture. */
export function IconAction({ of, name, onPress, disabled, asks }: IconActionProps) {
  const look = useLook();
  const isAllowed = useIsAllowed({ asks });
  if (!isAllowed) return null;
  return (
    <WhyNotAround why={disabled}>
      <Pressable role="button" aria-label={name} disabled={Boolean(disabled)} onPress={onPress} style={styles.icon}>
        <Icon of={of} color={disabled ? look.line : look.ink} />
      </Pressable>
    </WhyNotAround>
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
