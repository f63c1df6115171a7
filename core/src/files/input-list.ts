import { type Profile, stripFamily } from '../desk/profile';
import { validateValue, type Value } from '../desk/setting';
import { displayName, type SettingsByAddress, type State } from '../desk/state';

/** A row of a strip list: what one reads when a stage is set up. */
interface InputListRow {
  readonly strip: string;
  readonly name: string;
  readonly part: string;
  readonly source: string;
  readonly link: string;
  readonly phantom: string;
  readonly note: string;
}

export const STRIP_LIST_COLUMNS = ['strip', 'name', 'part', 'source', 'link', 'phantom', 'note'] as const;

/** Which setting stands in which column. */
const KEYS: Readonly<Record<string, string>> = {
  name: 'label/name',
  source: 'source/socket',
  link: 'source/link',
  phantom: 'preamp/phantom',
  note: 'label/note',
};

/** All inputs of a desk, as a list. */
export const inputList = (profile: Profile, state: State, parts: Readonly<Record<string, string>>): InputListRow[] =>
  (profile.families.find(({ id }) => id === 'in')?.strips ?? []).map((strip) => {
    const own = state[strip] ?? {};
    const word = (key: string) =>
      own[key] === undefined ? '' : own[key] === true ? 'yes' : own[key] === false ? 'no' : String(own[key]);
    return {
      strip,
      name: displayName(profile, state, strip),
      part: parts[strip] ?? '',
      source: word('source/socket'),
      link: word('source/link'),
      phantom: word('preamp/phantom'),
      note: word('label/note'),
    };
  });

export interface ParsedInputList {
  /** What is not as it is now, by address. */
  readonly settings: SettingsByAddress;
  readonly parts: Readonly<Record<string, string>>;
  /** Sentences about rows that cannot be taken, each with its line. */
  readonly wrong: readonly string[];
}

/** The rows of a strip list as settings and parts; columns that are missing or empty leave things as they are. */
export function parseInputList(
  profile: Profile,
  now: State,
  rows: readonly Readonly<Record<string, string>>[],
): ParsedInputList {
  const settings: Record<string, Value> = {};
  const parts: Record<string, string> = {};
  const wrong: string[] = [];
  rows.forEach((row, i) => {
    const [strip = '', line] = [row['strip']?.trim(), i + 2];
    const family = stripFamily(profile, strip);
    if (!family) {
      wrong.push(`Line ${line}: ${profile.name} has no strip “${strip}”.`);
      return;
    }
    if (row['part']?.trim()) parts[strip] = row['part'].trim();
    for (const [column, key] of Object.entries(KEYS)) {
      const [text, spec] = [row[column]?.trim() ?? '', family.settings[key]];
      if (text === '' || !spec) continue;
      const value = spec.kind === 'switch' ? YES_NO[text.toLowerCase()] : text;
      const taken = validateValue(spec, value);
      if (!taken.ok) wrong.push(`Line ${line}: ${column} ${taken.why}, not “${text}”.`);
      else if (now[strip]?.[key] !== taken.value) settings[`${strip}/${key}`] = taken.value;
    }
  });
  return { settings, parts, wrong };
}

const YES_NO: Readonly<Record<string, boolean>> = {
  yes: true,
  no: false,
  on: true,
  off: false,
  true: true,
  false: false,
};
