import type { Dependency } from '../combine/find-dependencies';
import type { Profile } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import { sectionOfCell } from './describe-origins';
import { isOne, joinWithAnd, plural, sectionNameInText } from './format-value';

/** What something taken needs beside it, in a sentence; `scene` is what its scene is called. */
export function describeDependency(
  profile: Profile,
  names: State,
  { kind, strips, on, fix }: Dependency,
  scene: string,
): string {
  const name = (strip: string) => displayName(profile, names, strip);
  const who = strips.length > 3 ? plural(strips.length, 'strip') : joinWithAnd(strips.map(name));
  const one = isOne(strips.length);
  switch (kind) {
    case 'return':
      return `${who} ${one ? 'feeds' : 'feed'} ${name(on)}, which had a different effect in ${scene}.`;
    case 'level':
      return `${who} ${one ? 'is' : 'are'} assigned to ${name(on)}, which had another level in ${scene}.`;
    case 'members':
      return `${who} ${one ? 'is' : 'are'} assigned to ${name(on)}, which had other members in ${scene}.`;
    case 'processor':
      return `Automation on ${who} controls a processor that is not loaded.`;
    case 'pair': {
      const sections = joinWithAnd(fix.map((cell) => sectionNameInText(sectionOfCell(cell))));
      return `${who} is stereo-linked to ${name(on)}, whose ${sections} ${fix.length === 1 && !sections.endsWith('s') ? 'was' : 'were'} not taken.`;
    }
    case 'muted':
      return `${who} ${one ? 'is' : 'are'} unmuted, but ${name(on)} is muted here and was not in ${scene}.`;
  }
}
