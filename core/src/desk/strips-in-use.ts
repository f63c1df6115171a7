import { familyOf } from './address';
import { defaultValue, type Profile, stripFamily } from './profile';
import { GLOBAL_FAMILY } from './profile-source';
import { isOff, sameValue } from './setting';
import type { State } from './state';

/** Strips that someone uses: named, or open, or fed. */
export const stripsInUse = (profile: Profile, state: State): string[] =>
  profile.strips.filter(
    (strip) => familyOf(strip) !== GLOBAL_FAMILY && (familyOf(strip) === 'main' || !isUnused(profile, state, strip)),
  );

/** Whether nobody uses a strip: it has the name of an untouched desk, and is shut or nothing feeds it. */
export function isUnused(profile: Profile, state: State, strip: string): boolean {
  const [settings, family] = [state[strip], stripFamily(profile, strip)];
  const [label, level] = [family?.settings['label/name'], family?.settings['fader/level']];
  if (!settings || !label || !sameValue(label, settings['label/name'], defaultValue(profile, strip, label)))
    return false;
  if (familyOf(strip) === 'in') return !level || isOff(level, settings['fader/level']);
  const others = profile.strips.filter((one) => one !== strip);
  return !others.some((one) => hasOpenSend(profile, state, one, strip) || state[one]?.[`routing/${strip}`] === true);
}

/** Whether a strip sends something to another: switched on, and not off. */
export function hasOpenSend(profile: Profile, state: State, strip: string, to: string): boolean {
  const [settings, spec] = [state[strip], stripFamily(profile, strip)?.settings[`sends/${to}/level`]];
  return (
    settings !== undefined &&
    spec !== undefined &&
    settings[`sends/${to}/on`] !== false &&
    !isOff(spec, settings[`sends/${to}/level`])
  );
}
