import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { Animated, Easing, Pressable, StyleSheet, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';

import { type Asking, useIsAllowed } from './allowed';
import { AppText } from './app-text';
import { useLook } from './theme';
import { CORNER, LOW, MAX_TEXT_WIDTH, SPACE, TOUCH } from './tokens';
import { type WhyNot, WhyNotAround } from './why-not';

interface ActionProps extends Asking {
  readonly title: string;
  readonly onPress: () => void;
  /** Why it cannot be used now; a touch says so. */
  readonly disabled?: WhyNot;
  readonly busy?: boolean;
  /** `main` is filled; there is one of them on a screen. `small` stands beside others of its kind. */
  readonly kind?: 'main' | 'other' | 'quiet' | 'small';
  readonly grow?: boolean;
}

/** A button with words on it. */
export function Action({ title, onPress, disabled, busy, kind = 'other', grow, asks }: ActionProps) {
  const isAllowed = useIsAllowed({ asks });
  const mode = { main: 'contained', other: 'outlined', quiet: 'text', small: 'outlined' } as const;
  if (!isAllowed) return null;
  return (
    <WhyNotAround why={disabled} style={grow && styles.grow}>
      <Button
        mode={mode[kind]}
        onPress={onPress}
        disabled={Boolean(disabled) || busy === true}
        loading={busy === true}
        compact={kind === 'quiet' || kind === 'small'}
        {...(kind === 'small' ? { labelStyle: styles.small } : {})}
        contentStyle={{ minHeight: kind === 'main' ? TOUCH + SPACE.xs : TOUCH }}
        style={[{ borderRadius: CORNER.large }, grow && disabled === undefined && styles.grow]}
      >
        {title}
      </Button>
    </WhyNotAround>
  );
}

const HOLD_MS = 800;

interface KeyPress {
  readonly key: string;
  readonly repeat: boolean;
}

const isPress = ({ key, repeat }: KeyPress): boolean => (key === 'Enter' || key === ' ') && !repeat;

interface HoldButtonProps extends Asking {
  readonly title: string;
  readonly onDone: () => void;
  readonly disabled?: WhyNot;
}

/**
 * A button that has to be held: for what reaches an audience. Letting go early does nothing.
 * With the keyboard, Enter or the space bar is held the same way.
 */
export function HoldButton({ title, onDone, disabled, asks }: HoldButtonProps) {
  const isAllowed = useIsAllowed({ asks });
  const look = useLook();
  const [held] = useState(() => new Animated.Value(0));
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const [isHeld, setIsHeld] = useState(false);
  // The timer decides, the animation only shows; it stays set until the button is let go, so that one hold acts once.
  const begin = () => {
    if (disabled || timer.current) return;
    setIsHeld(true);
    Animated.timing(held, { toValue: 1, duration: HOLD_MS, easing: Easing.linear, useNativeDriver: false }).start();
    timer.current = setTimeout(() => {
      // It has acted: whatever is in question from now on, this hold does not count again.
      setIsHeld(false);
      onDone();
    }, HOLD_MS);
  };
  const stop = () => {
    if (timer.current) clearTimeout(timer.current);
    timer.current = null;
    held.stopAnimation();
    held.setValue(0);
  };
  const end = () => {
    setIsHeld(false);
    stop();
  };
  // What it asks for may be in question for a moment while a finger is on it: then the hold counts from the beginning, and none is lost.
  const onDisabled = useEffectEvent(() => (disabled ? stop() : isHeld && begin()));
  useEffect(() => void onDisabled(), [disabled]);
  useEffect(() => () => clearTimeout(timer.current ?? undefined), []);
  const width = held.interpolate({ inputRange: [0, 1], outputRange: ['0%', '100%'] });
  const keys = {
    onKeyDown: (event: KeyPress) => isPress(event) && begin(),
    onKeyUp: (event: KeyPress) => isPress(event) && end(),
    onBlur: end,
  };
  if (!isAllowed) return null;
  return (
    <WhyNotAround why={(!isHeld && disabled) || false} style={styles.grow}>
      <Pressable
        role="button"
        disabled={Boolean(disabled) && !isHeld}
        aria-label={disabled ? title : `${title}: hold`}
        onPressIn={begin}
        onPressOut={end}
        {...keys}
        style={[styles.hold, { backgroundColor: disabled ? look.wash : look.ink }]}
      >
        <Animated.View style={[StyleSheet.absoluteFill, { width, backgroundColor: look.done }]} />
        <AppText kind="strong" tone={disabled ? 'second' : 'paper'}>
          {title}
        </AppText>
      </Pressable>
    </WhyNotAround>
  );
}

interface ChipProps extends Asking {
  readonly title: string;
  readonly chosen: boolean;
  readonly onPress: () => void;
  /** `toggle` shows ● and ○, so that it is not told by colour alone. */
  readonly toggle?: boolean;
  readonly disabled?: WhyNot;
}

export function Chip({ title, chosen, onPress, toggle, disabled, asks }: ChipProps) {
  const isAllowed = useIsAllowed({ asks });
  const look = useLook();
  if (!isAllowed) return null;
  return (
    <WhyNotAround why={disabled}>
      <Pressable
        role={toggle ? 'checkbox' : 'tab'}
        aria-checked={toggle ? chosen : undefined}
        aria-selected={toggle ? undefined : chosen}
        disabled={Boolean(disabled)}
        onPress={onPress}
        style={[
          styles.chip,
          Boolean(disabled) && styles.disabled,
          { borderColor: chosen ? look.ink : look.line, backgroundColor: chosen ? look.ink : look.card },
        ]}
      >
        <AppText tone={chosen ? 'paper' : 'ink'}>{toggle ? `${chosen ? '●' : '○'} ${title}` : title}</AppText>
      </Pressable>
    </WhyNotAround>
  );
}

/** Buttons at the foot of a screen, side by side. */
export function Footer({ children }: { readonly children: React.ReactNode }) {
  const look = useLook();
  const low = useWindowDimensions().height < LOW;
  return <View style={[styles.foot, low && styles.lowFoot, { backgroundColor: look.paper }]}>{children}</View>;
}

/** The one thing that a screen leads to, across its foot. */
export const MainAction = (action: Omit<ActionProps, 'kind' | 'grow'>) => (
  <Footer>
    <Action kind="main" grow {...action} />
  </Footer>
);

const styles = StyleSheet.create({
  grow: { flex: 1 },
  hold: {
    flex: 1,
    minHeight: TOUCH + SPACE.xs,
    borderRadius: CORNER.large,
    alignItems: 'center',
    justifyContent: 'center',
    overflow: 'hidden',
    paddingHorizontal: SPACE.l,
  },
  small: { marginHorizontal: SPACE.s },
  chip: {
    minHeight: TOUCH,
    minWidth: TOUCH,
    justifyContent: 'center',
    alignItems: 'center',
    paddingHorizontal: SPACE.m,
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
  disabled: { opacity: 0.5 },
  lowFoot: { paddingVertical: 2 },
  foot: {
    flexDirection: 'row',
    gap: SPACE.s,
    paddingHorizontal: SPACE.l,
    paddingVertical: SPACE.s,
    width: '100%',
    maxWidth: MAX_TEXT_WIDTH,
    alignSelf: 'center',
  },
});
