import { View } from 'react-native';

import { latestOf } from '@old-echo/core/desk/learn/learn-rule';
import type { LoggedMessage } from '@old-echo/core/desk/logged-message';
import { wireArguments } from '@old-echo/core/phrases/describe-wire';

import { AppText } from '../ui/app-text';

interface HeardMessagesProps {
  readonly messages: readonly LoggedMessage[];
  /** So many addresses are shown. */
  readonly most: number;
}

/** What arrived last, each address once, the newest first. */
export function HeardMessages({ messages, most }: HeardMessagesProps) {
  const shown = latestOf(messages)
    .sort((a, b) => b.packet - a.packet)
    .slice(0, most);
  return (
    <View role="log" aria-label="What arrived" testID="heard">
      {shown.map((message) => (
        <AppText key={message.address} kind="value" numberOfLines={1}>
          {message.address} {wireArguments(message)}
        </AppText>
      ))}
    </View>
  );
}
