import { stripFamily } from '@old-echo/core/desk/profile';

import type { LiveDesk } from '../store/use-live-desk';
import { TypedValueSheet } from '../ui/typed-value';
import { useMoveSetting } from './use-move-setting';

const NAME = 'label/name';

/** Whether a strip can be given another name now. */
export const canRename = ({ profile, desk, linked }: LiveDesk, strip: string): boolean =>
  linked && !desk.showLock && stripFamily(profile, strip)?.settings[NAME] !== undefined;

interface RenameStripSheetProps {
  readonly now: LiveDesk;
  readonly strip: string;
  readonly onClose: () => void;
}

/** Types another name for a strip. */
export function RenameStripSheet({ now, strip, onClose }: RenameStripSheetProps) {
  const { profile, state, desk } = now;
  const move = useMoveSetting(desk.id);
  const spec = stripFamily(profile, strip)?.settings[NAME];
  const name = state[strip]?.[NAME] ?? '';
  return spec ? (
    <TypedValueSheet
      spec={spec}
      value={String(name)}
      name={`Name of ${profile.plainNames[strip] ?? strip}`}
      onMove={(typed, done) => move(`${strip}/${NAME}`, typed, done, name)}
      onClose={onClose}
    />
  ) : null;
}
