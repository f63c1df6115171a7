import { createContext, type ReactNode, use } from 'react';
import { type StyleProp, StyleSheet, View, type ViewStyle } from 'react-native';

import { webProps } from './web-only';

/** Why a control cannot be used now, as a sentence; false, or nothing to say, where it can. */
export type WhyNot = string | false;

/** Says why a control that was touched in vain does nothing. */
export const SayWhyNot = createContext<(why: string) => void>(() => undefined);

interface WhyNotAroundProps {
  readonly why: WhyNot | undefined;
  readonly style?: StyleProp<ViewStyle>;
  readonly children: ReactNode;
}

/**
 * Around a control that cannot always be used: a touch on it says why not. A control that always can is left alone; one that
 * changes between the two is told false meanwhile, so that it stays the same control under a finger.
 */
export function WhyNotAround({ why, style, children }: WhyNotAroundProps) {
  const say = use(SayWhyNot);
  if (why === undefined) return children;
  return (
    <View style={style}>
      {children}
      {/* A browser tells nobody of a touch on a disabled button, or on what is inside it. */}
      {why === false || why === '' ? null : (
        <View aria-hidden style={StyleSheet.absoluteFill} {...webProps({ onClick: () => say(why) })} />
      )}
    </View>
  );
}

export const withoutName = (name: string): WhyNot => name.trim() === '' && 'Give it a name first.';
