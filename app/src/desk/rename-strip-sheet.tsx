import { useState } from 'react';

import { stripFamily } from '@old-echo/core/desk/profile';

import type { LiveDesk } from '../store/use-live-desk';
import { ColourChoice } from '../ui/strip-colour';
import { TypedValueSheet } from '../ui/typed-value';
import { useMoveSetting } from './use-move-setting';

const [NAME, COLOUR] = ['label/name', 'label/colour'];

/** Whether a strip can be given another name now. */
export const canRename = ({ profile, desk, linked }: LiveDesk, strip: string): boolean =>
  linked && !desk.showLock && stripFamily(profile, strip)?.settings[NAME] !== undefined;

interface RenameStripSheetProps {
  readonly now: LiveDesk;
  readonly strip: string;
  readonly onClose: () => void;
}

/** Types another name for a strip, and gives it another colour. */
export function RenameStripSheet({ now, strip, onClose }: RenameStripSheetProps) {
  const { profile, state, desk } = now;
  const move = useMoveSetting(desk.id);
  const [chosen, setChosen] = useState<string | null>(null);
  const settings = stripFamily(profile, strip)?.settings;
  const [spec, colours] = [settings?.[NAME], settings?.[COLOUR]];
  const [name, colour] = [state[strip]?.[NAME] ?? '', state[strip]?.[COLOUR]];
  return spec ? (
    <TypedValueSheet
      spec={spec}
      value={String(name)}
      name={`Name of ${profile.plainNames[strip] ?? strip}`}
      onMove={(typed, done) => move(`${strip}/${NAME}`, typed, done, name)}
      onClose={onClose}
      onSet={() => {
        if (chosen !== null && colour !== undefined && chosen !== colour)
          move(`${strip}/${COLOUR}`, chosen, true, colour);
      }}
    >
      {colours?.kind === 'choice' && typeof colour === 'string' ? (
        <ColourChoice options={colours.options} value={chosen ?? colour} onChoose={setChosen} />
      ) : null}
    </TypedValueSheet>
  ) : null;
}
