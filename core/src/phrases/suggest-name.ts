import type { SettingChange } from '../desk/diff-states';
import type { Profile } from '../desk/profile';
import { displayName, type State } from '../desk/state';
import { MAX_NAME_LENGTH } from '../fault/text-shapes';
import { sectionName, sectionNameInText } from './format-value';

/** A name for a new scene that says what moved: "Fiddle and Accordion L louder", "EQ on Wren vox". */
export function suggestName(profile: Profile, state: State, changes: readonly SettingChange[]): string {
  if (changes.length === 0) return 'No changes';
  const strips = [...new Set(changes.map((c) => c.strip))];
  const who = listNames(strips.map((strip) => displayName(profile, state, strip)));
  const sections = [...new Set(changes.map((c) => c.section))];
  const [section, second] = sections;
  if (section === undefined) return 'No changes';
  if (sections.every((s) => s === 'fader')) {
    if (changes.every((c) => Number(c.now) > Number(c.was))) return fitName(`${who} louder`, strips.length);
    if (changes.every((c) => Number(c.now) < Number(c.was))) return fitName(`${who} quieter`, strips.length);
    return fitName(`${who} rebalanced`, strips.length);
  }
  if (sections.every((s) => s === 'mute')) {
    if (changes.every((c) => c.now === true)) return fitName(`${who} muted`, strips.length);
    if (changes.every((c) => c.now === false)) return fitName(`${who} unmuted`, strips.length);
  }
  if (second === undefined) return fitName(`${sectionName(section)} on ${who}`, strips.length);
  if (sections.length === 2)
    return fitName(`${sectionName(section)} and ${sectionNameInText(second)} on ${who}`, strips.length);
  return fitName(`${who} reworked`, strips.length);
}

/**
 * A name for what was put together of several scenes: "Fiddle forward, with sends from 12 Chorus".
 * @param line what the desk is meant to hold, as `baselineLine` says it
 */
export function suggestMixtureName(scene: { readonly number: number; readonly name: string }, line: string): string {
  const number = `${scene.number} `;
  const name = line.startsWith(number) ? line.slice(number.length) : line;
  if (name.length <= MAX_NAME_LENGTH) return name;
  return `${scene.name.slice(0, MAX_NAME_LENGTH - MIXED.length)}${MIXED}`;
}

const MIXED = ', with others';

function listNames(names: readonly string[]): string {
  if (names.length <= 1) return names[0] ?? '';
  if (names.length <= 3) return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
  return `${names[0]}, ${names[1]} and ${names.length - 2} more`;
}

const fitName = (name: string, strips: number): string =>
  name.length <= MAX_NAME_LENGTH ? name : `${strips} strips changed`;
