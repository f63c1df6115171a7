import { useState } from 'react';

import { familyOf } from '@old-echo/core/desk/address';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { displayName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { CheckRow } from '../components/check-row';
import { findStrips } from '../components/strip-picker-sheet';
import type { LiveDesk } from '../store/use-live-desk';
import { Action } from '../ui/buttons';
import { SearchField } from '../ui/search-field';
import { Sheet } from '../ui/sheet';
import { toggled } from '../ui/toggle-in-set';

interface OntoSheetProps {
  readonly now: LiveDesk;
  /** The strip of the scene. */
  readonly from: string;
  readonly chosen: readonly string[];
  readonly onClose: () => void;
  readonly onChoose: (to: readonly string[]) => void;
}

/** Chooses the strips onto which one strip of a scene is put; those of its own family stand first. */
export function OntoSheet({ now, from, chosen, onClose, onChoose }: OntoSheetProps) {
  const { profile, state } = now;
  const [words, setWords] = useState('');
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set(chosen));
  const own = familyOf(from);
  const strips = findStrips(now, words).filter((strip) => familyOf(strip) !== GLOBAL_FAMILY && strip !== from);
  const sorted = [...strips.filter((s) => familyOf(s) === own), ...strips.filter((s) => familyOf(s) !== own)];
  return (
    <Sheet
      title={`Apply ${displayName(profile, state, from)} to`}
      open
      onClose={onClose}
      above={<SearchField placeholder="Search strips" value={words} onChange={setWords} />}
    >
      {sorted.map((strip) => (
        <CheckRow
          key={strip}
          name={displayName(profile, state, strip)}
          under={profile.plainNames[strip] ?? strip}
          tick={picked.has(strip) ? 'all' : 'none'}
          testID={`onto-${strip}`}
          onPress={() => setPicked(toggled(picked, strip))}
        />
      ))}
      <Action
        kind="main"
        title={picked.size === 0 ? 'Choose strips' : `Apply to ${plural(picked.size, 'strip')}`}
        disabled={picked.size === 0 && 'Choose a strip first.'}
        onPress={() => onChoose(profile.strips.filter((strip) => picked.has(strip)))}
      />
    </Sheet>
  );
}
