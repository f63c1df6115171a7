import { readAddress, sectionOf, type Address } from '../desk/address';
import { GLOBAL_FAMILY, stripFamily, type Profile } from '../desk/profile';
import { capital, countWord, fullSettingName, plural, sectionName } from '../desk/wording';
import { safeStrips, type CompiledScope } from './compile';

/** A piece of a sentence; bold pieces carry what is decided. */
export interface Phrase {
  readonly text: string;
  readonly tone?: 'bold' | 'safe';
}

/** What a compiled scope does, in plain English: "**Seven sections on 31 strips** come back. 66 strips stay …". */
export function scopeSentence(profile: Profile, compiled: CompiledScope): Phrase[] {
  const strips = profile.families.filter((f) => f.id !== GLOBAL_FAMILY).flatMap((f) => f.strips);
  const coming = new Set<string>();
  const sections = new Set<string>();
  let whole = true;
  for (const strip of strips) {
    for (const [section, fate] of Object.entries(compiled.cells[strip] ?? {})) {
      if (fate !== 'comes back') continue;
      coming.add(strip);
      sections.add(section);
    }
  }
  for (const strip of coming)
    for (const [section, fate] of Object.entries(compiled.cells[strip] ?? {}))
      if (sections.has(section) && fate !== 'comes back') whole = false;

  const phrases: Phrase[] = [];
  const globals = Object.entries(compiled.cells).some(
    ([strip, fates]) => strip.startsWith(`${GLOBAL_FAMILY}.`) && Object.values(fates).includes('comes back'),
  );
  const single = [...compiled.settings].filter(([, fate]) => fate === 'comes back').map(([address]) => address);
  const touched = new Set([...coming, ...single.map((address) => address.slice(0, address.indexOf('/')))]);
  const staying = strips.filter((strip) => !touched.has(strip)).length;
  if (coming.size === 0 && single.length > 0)
    phrases.push(
      { text: singleSettings(profile, single), tone: 'bold' },
      { text: keysOf(single).size === 1 ? ' comes back.' : ' come back.' },
    );
  else if (coming.size === 0)
    phrases.push(
      { text: globals ? 'Only the globals' : 'Nothing', tone: 'bold' },
      { text: globals ? ' come back.' : ' comes back.' },
    );
  else {
    const everySection = strips.every(
      (strip) => !coming.has(strip) || Object.values(compiled.cells[strip] ?? {}).every((f) => f === 'comes back'),
    );
    const [only] = sections;
    const what = everySection
      ? 'Everything'
      : !whole
        ? `Parts of ${plural(sections.size, 'section')}`
        : sections.size === 1 && only
          ? sectionName(only)
          : `${capital(countWord(sections.size))} sections`;
    const one = everySection || (whole && sections.size === 1);
    phrases.push(
      { text: `${what} on ${plural(coming.size, 'strip')}`, tone: 'bold' },
      { text: one ? ' comes back' : ' come back' },
    );
    phrases.push({ text: exceptions(profile, compiled, single, coming) });
    phrases.push({ text: globals ? ', and the globals too.' : '.' });
  }
  if (staying > 0) {
    phrases.push({ text: ` ${plural(staying, 'strip')} ${staying === 1 ? 'stays as it is' : 'stay as they are'}` });
    const safe = safeStrips(compiled).filter((strip) => strips.includes(strip)).length;
    if (safe > 0) phrases.push({ text: '; ' }, { text: safe === 1 ? '1 is safe' : `${safe} are safe`, tone: 'safe' });
    phrases.push({ text: '.' });
  }
  return phrases;
}

const keysOf = (addresses: readonly string[]) => new Set(addresses.map((address) => readAddress(address)?.key));

/** "12 single settings on 4 strips", or the one by its name. */
function singleSettings(profile: Profile, addresses: readonly string[]): string {
  const [first = ''] = addresses;
  const strips = new Set(addresses.map((address) => readAddress(address)?.strip));
  const what =
    keysOf(addresses).size === 1 ? fullSettingName(profile, first) : plural(addresses.length, 'single setting');
  return `${what} on ${plural(strips.size, 'strip')}`;
}

/** What is said of single settings that do otherwise than their cells. */
function exceptions(
  profile: Profile,
  { settings, cells }: CompiledScope,
  single: readonly string[],
  coming: ReadonlySet<string>,
): string {
  const left = [...settings].flatMap(([address, fate]) => {
    const parts = readAddress(address);
    return parts && fate === 'out of scope' && cells[parts.strip]?.[parts.section] === 'comes back' ? [parts] : [];
  });
  const also = single.length > 0 ? ` and ${plural(single.length, 'single setting')}` : '';
  if (left.length === 0) return also;
  const sends = sendsKept(profile, left, coming);
  return `${also}, ${sends ?? `without ${plural(left.length, 'setting')} of them`}`;
}

/** "of the sends only those to Mix 3", where all that is left out are whole sends, the same on every strip. */
function sendsKept(profile: Profile, left: readonly Address[], coming: ReadonlySet<string>): string | undefined {
  const out = new Set(left.map(({ strip, key }) => `${strip}/${key}`));
  const kept = new Set<string>();
  const dropped = new Set<string>();
  for (const strip of coming)
    for (const key of stripFamily(profile, strip)?.keys ?? []) {
      if (sectionOf(key) !== 'sends') continue;
      const to = key.split('/')[1] ?? '';
      (out.delete(`${strip}/${key}`) ? dropped : kept).add(to);
    }
  const mixed = [...dropped].some((to) => kept.has(to));
  if (out.size > 0 || mixed || kept.size === 0 || kept.size > 3) return undefined;
  return `of the sends only those to ${[...kept].map((to) => profile.plainNames[to] ?? to).join(', ')}`;
}

/** The sentence as one line of text. */
export const plainText = (phrases: readonly Phrase[]): string => phrases.map((p) => p.text).join('');
