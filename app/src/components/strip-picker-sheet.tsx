import { useState } from 'react';

import { displayName } from '@old-echo/core/desk/state';

import type { LiveDesk } from '../store/use-live-desk';
import { Empty } from '../ui/layout';
import { Option } from '../ui/option';
import { SearchField } from '../ui/search-field';
import { Sheet } from '../ui/sheet';

/** The strips of the desk whose name or number holds the words. */
export const findStrips = ({ profile, state }: LiveDesk, words: string): string[] => {
  const wanted = words.trim().toLowerCase();
  return profile.strips.filter((strip) =>
    `${displayName(profile, state, strip)} ${profile.plainNames[strip]}`.toLowerCase().includes(wanted),
  );
};

interface StripSheetProps {
  readonly title: string;
  readonly now: LiveDesk;
  readonly chosen?: string;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (strip: string) => void;
}

/** Chooses one strip of the desk. */
export function StripSheet({ title, now, chosen, open, onClose, onChoose }: StripSheetProps) {
  const [words, setWords] = useState('');
  const strips = open ? findStrips(now, words) : [];
  return (
    <Sheet
      title={title}
      open={open}
      onClose={onClose}
      above={<SearchField placeholder="Search strips" value={words} onChange={setWords} />}
    >
      {strips.map((strip) => (
        <Option
          key={strip}
          title={displayName(now.profile, now.state, strip)}
          under={now.profile.plainNames[strip] ?? strip}
          chosen={strip === chosen}
          onPress={() => {
            onChoose(strip);
            onClose();
          }}
        />
      ))}
      {strips.length === 0 ? <Empty title="No strip found">Search covers names and numbers.</Empty> : null}
    </Sheet>
  );
}
