import { familyOf, sectionOf } from '../desk/address';
import type { Profile } from '../desk/profile';
import { type PresetContent, type PresetKind, singleStrip } from '../library/preset';
import { inputsOf } from '../library/strip-set';
import { insertChain } from '../signal/insert-chain';
import { plural, sectionName } from './format-value';

/**
 * What is in a preset, in a word or two: "EQ", "Drive", "Main", "2 strips, 1 effect return". Processors of one kind have the
 * same.
 */
export function presetLabel(kind: PresetKind, profile: Profile, content: PresetContent): string {
  const strips = Object.keys(content);
  const settings = content[singleStrip(content)] ?? {};
  switch (kind) {
    case 'processor': {
      const insert = insertChain(settings)[0]?.kind ?? settings['inserts/kind'];
      const section = sectionOf(Object.keys(settings)[0] ?? '');
      return insert === undefined ? sectionName(section) : sectionName(String(insert));
    }
    case 'strip':
      return familyName(profile, singleStrip(content));
    case 'bus':
      return familyName(profile, singleStrip(content));
    case 'strip set': {
      const returns = strips.filter((strip) => familyOf(strip) === 'fx').length;
      return [plural(inputsOf(content).length, 'strip'), returns > 0 ? plural(returns, 'effect return') : '']
        .filter(Boolean)
        .join(', ');
    }
    default:
      return plural(strips.length, 'strip');
  }
}

/** What a strip is, by its plain name: "Input", "Mix". */
export const familyName = (profile: Profile, strip: string): string =>
  (profile.plainNames[strip] ?? strip).replace(/ \d+$/, '');
