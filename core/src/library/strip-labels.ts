import { readAddress } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import type { SettingsByAddress } from '../desk/state';
import { truncate } from '../fault/text-shapes';
import type { ConversionNote } from './convert-strip';

const LABEL = 'label/name';

/** The last word of a name is what tells it from others like it, so at most so many characters of that are kept. */
const MAX_LAST = 4;

/** A name within `longest` characters that is not among `taken`: its beginning with its last word, else with a number. */
function distinct(name: string, longest: number, taken: ReadonlySet<string>): string {
  const at = name.trimEnd().lastIndexOf(' ');
  const last = truncate(name.slice(at + 1), MAX_LAST);
  const short = at < 0 ? '' : `${truncate(name.slice(0, at), longest - last.length - 1).trimEnd()} ${last}`;
  if (short !== '' && short.length <= longest && !taken.has(short)) return short;
  for (let n = 2; ; n++) {
    const numbered = `${truncate(name, longest - String(n).length - 1).trimEnd()} ${n}`;
    if (!taken.has(numbered)) return numbered;
  }
}

/**
 * Labels as they landed, with those that were shortened to the same one told apart: "Frame drum, low" and "Frame drum, high"
 * on eight characters are "Fram low" and "Fra high", not twice "Frame dr".
 */
export function distinctLabels(
  profile: Profile,
  settings: SettingsByAddress,
  notes: readonly ConversionNote[],
): { readonly settings: SettingsByAddress; readonly notes: readonly ConversionNote[] } {
  const labels = Object.entries(settings).filter(([address]) => address.endsWith(`/${LABEL}`));
  const times = new Map<unknown, number>();
  for (const [, label] of labels) times.set(label, (times.get(label) ?? 0) + 1);
  const wholeNames = new Map(
    notes.flatMap(({ key, strip, from, to }) => (key === LABEL && to !== undefined ? [[strip, String(from)]] : [])),
  );
  const taken = new Set(labels.flatMap(([, label]) => (times.get(label) === 1 ? String(label) : [])));
  const made = new Map<string, string>();
  for (const [address, label] of labels) {
    const strip = readAddress(address)?.strip ?? '';
    const spec = stripFamily(profile, strip)?.settings[LABEL];
    const name = wholeNames.get(strip);
    if (times.get(label) === 1 || name === undefined || spec?.kind !== 'text') continue;
    const own = distinct(name, spec.longest, taken);
    taken.add(own);
    made.set(strip, own);
  }
  if (made.size === 0) return { settings, notes };
  return {
    settings: { ...settings, ...Object.fromEntries([...made].map(([strip, label]) => [`${strip}/${LABEL}`, label])) },
    notes: notes.map((note) =>
      note.key === LABEL && made.has(note.strip) ? { ...note, to: made.get(note.strip) } : note,
    ),
  };
}
