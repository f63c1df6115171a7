import type { ReactNode } from 'react';
import { Text, type TextProps } from 'react-native';

import type { Phrase } from '@old-echo/core/phrases/phrase';

import { useLook } from './theme';
import { FONT, type Look, SIZE } from './tokens';

const KINDS = {
  title: { fontFamily: FONT.title, fontSize: SIZE.title, lineHeight: 30 },
  heading: { fontFamily: FONT.title, fontSize: SIZE.heading, lineHeight: 24 },
  strong: { fontFamily: FONT.strong, fontSize: SIZE.body, lineHeight: 20 },
  body: { fontFamily: FONT.text, fontSize: SIZE.body, lineHeight: 21 },
  small: { fontFamily: FONT.text, fontSize: SIZE.small, lineHeight: 17 },
  value: { fontFamily: FONT.value, fontSize: SIZE.small, lineHeight: 18 },
  /** A value to be read at arm’s length. */
  figure: { fontFamily: FONT.value, fontSize: SIZE.figure, lineHeight: 32 },
} as const;

interface WordsProps extends TextProps {
  readonly kind?: keyof typeof KINDS;
  readonly tone?: keyof Omit<Look, 'dark'>;
  readonly children: ReactNode;
}

/** All text on screen: one of seven kinds, in a colour of the look. */
export function AppText({ kind = 'body', tone = 'ink', style, ...rest }: WordsProps) {
  const look = useLook();
  const heading = kind === 'title' ? { role: 'heading' as const, 'aria-level': 1 } : {};
  return <Text {...heading} {...rest} style={[KINDS[kind], { color: look[tone] }, style]} />;
}

/** A plain sentence with its decisive parts in bold. */
export function Sentence({ phrases }: { readonly phrases: readonly Phrase[] }) {
  return (
    <AppText accessibilityLiveRegion="polite" testID="sentence">
      {phrases.map((phrase, i) =>
        phrase.tone ? (
          <AppText key={i} kind="strong" tone={phrase.tone === 'safe' ? 'stop' : 'ink'}>
            {phrase.text}
          </AppText>
        ) : (
          phrase.text
        ),
      )}
    </AppText>
  );
}
