import { type Address, readAddress, sectionOf } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { SECTIONS } from '../desk/sections';
import { displayName, profileOfPart, type State } from '../desk/state';
import { type CompiledScope, compileScope, safeSections, safeStrips, sectionsIn } from '../recall/compile-scope';
import type { Safes, Scope } from '../recall/scope-rules';
import {
  capitalise,
  countStrips,
  countWord,
  fullSettingName,
  joinWithAnd,
  plural,
  sectionNameInText,
} from './format-value';
import type { Phrase } from './phrase';

/** At most so many strips or sections are named; of more there is a count. */
const MAX_NAMED = 3;

/** What sections of several strips are called; others have no plural, or are one already. */
const PLURALS: Readonly<Record<string, string>> = {
  source: 'sources',
  preamp: 'preamps',
  gate: 'gates',
  eq: 'EQs',
  compressor: 'compressors',
  pan: 'pans',
  fader: 'faders',
  mute: 'mutes',
  label: 'labels',
  view: 'views',
};

const sectionOn = (section: string, strips: number): string =>
  strips === 1 ? sectionNameInText(section) : (PLURALS[section] ?? sectionNameInText(section));

const ALWAYS_PLURAL: ReadonlySet<string> = new Set(['inserts', 'sends', 'headphones']);

/**
 * What a compiled scope does, in plain English: "**EQ and fader on 31 strips** come back. 66 strips stay …". It counts what
 * the scope was compiled for, and nothing else; what is little is named, what comes back as well as what stays.
 * @param profile what there is to come back, where that is a part of a desk: see `whole`
 * @param names a state whose labels name the strips; without one they have their plain names
 * @param whole the desk itself: of a part of it never "everything" comes back
 */
export function describeScope(profile: Profile, compiled: CompiledScope, names: State = {}, whole = profile): Phrase[] {
  const strips = profile.families
    .filter((f) => f.id !== GLOBAL_FAMILY)
    .flatMap((f) => f.strips)
    .filter((strip) => Object.keys(compiled.cells[strip] ?? {}).length > 0);
  const single = [...compiled.settings].filter(([, fate]) => fate === 'comes back').map(([address]) => address);
  const coming = strips.filter((strip) => Object.values(compiled.cells[strip] ?? {}).includes('comes back'));
  const phrases = comingPhrases(profile, compiled, coming, single, profile !== whole);
  const touched = new Set([...coming, ...single.map((address) => address.slice(0, address.indexOf('/')))]);
  const staying = strips.filter((strip) => !touched.has(strip));
  if (staying.length > 0) phrases.push(...stayingPhrases(profile, compiled, staying, touched.size > 0, names));
  const never = safeSections(compiled);
  if (never.length > 0)
    phrases.push(
      { text: ' ' },
      { text: `${capitalise(joinWithAnd(never.map((section) => sectionOn(section, strips.length))))} `, tone: 'safe' },
      { text: isPlural(never, strips.length) ? 'are safe.' : 'is safe.', tone: 'safe' },
    );
  return phrases;
}

function stayingPhrases(
  profile: Profile,
  compiled: CompiledScope,
  staying: readonly string[],
  isNamed: boolean,
  names: State,
): Phrase[] {
  const who =
    staying.length <= MAX_NAMED && isNamed
      ? joinWithAnd(staying.map((strip) => displayName(profile, names, strip)))
      : plural(staying.length, 'strip');
  const text = ` ${who} ${staying.length === 1 ? 'stays as it is' : 'stay as they are'}`;
  const safe = safeStrips(compiled).filter((strip) => staying.includes(strip)).length;
  if (safe === 0) return [{ text: `${text}.` }];
  const many = safe === staying.length ? 'all safe' : `${safe} of them safe`;
  return [{ text: `${text}, ` }, { text: staying.length === 1 ? 'safe' : many, tone: 'safe' }, { text: '.' }];
}

function comingPhrases(
  profile: Profile,
  compiled: CompiledScope,
  coming: readonly string[],
  single: readonly string[],
  isPart: boolean,
): Phrase[] {
  const globals = globalsComing(compiled);
  if (coming.length === 0 && single.length > 0) {
    const also = globals.length > 0 ? `, and ${joinWithAnd(globals.map(sectionNameInText))} of the whole desk` : '';
    const one = keysOf(single).size === 1 && globals.length === 0;
    return [
      { text: singleSettings(profile, single) + also, tone: 'bold' },
      { text: one ? ' comes back.' : ' come back.' },
    ];
  }
  if (coming.length === 0 && globals.length === 0) return [{ text: 'Nothing', tone: 'bold' }, { text: ' comes back.' }];
  if (coming.length === 0)
    return [
      { text: `Only ${joinWithAnd(globals.map(sectionNameInText))} of the whole desk`, tone: 'bold' },
      { text: isPlural(globals) ? ' come back.' : ' comes back.' },
    ];
  const { what, many } = whatComes(compiled, coming, isPart);
  return [
    { text: `${what} on ${plural(coming.length, 'strip')}`, tone: 'bold' },
    { text: many ? ' come back' : ' comes back' },
    { text: exceptions(profile, compiled, single, new Set(coming)) },
    { text: globals.length > 0 ? `, and ${joinWithAnd(globals.map(sectionNameInText))} of the whole desk too.` : '.' },
  ];
}

/** The sections of the globals that come back. */
const globalsComing = ({ cells }: CompiledScope): string[] =>
  Object.entries(cells).flatMap(([strip, fates]) =>
    strip.startsWith(`${GLOBAL_FAMILY}.`)
      ? Object.entries(fates).flatMap(([section, fate]) => (fate === 'comes back' ? section : []))
      : [],
  );

const isPlural = (sections: readonly string[], strips = 1): boolean =>
  sections.length > 1 ||
  ALWAYS_PLURAL.has(sections[0] ?? '') ||
  (strips > 1 && PLURALS[sections[0] ?? ''] !== undefined);

/**
 * "Everything", "EQ and fader", "Everything but label", "Seven sections", "Parts of 2 sections", and whether that is many. Of a
 * part of a desk it is "all seven sections that it holds" at most.
 */
function whatComes(
  { cells }: CompiledScope,
  coming: readonly string[],
  isPart: boolean,
): { what: string; many: boolean } {
  const [comes, stays] = [new Set<string>(), new Set<string>()];
  for (const strip of coming)
    for (const [section, fate] of Object.entries(cells[strip] ?? {}))
      (fate === 'comes back' ? comes : stays).add(section);
  const sections = SECTIONS.filter((section) => comes.has(section));
  if (stays.size === 0 && !isPart) return { what: 'Everything', many: false };
  if (sections.some((section) => stays.has(section)))
    return {
      what: `Some settings of ${countWord(sections.length)} ${sections.length === 1 ? 'section' : 'sections'}`,
      many: true,
    };
  if (sections.length <= MAX_NAMED)
    return {
      what: capitalise(joinWithAnd(sections.map((section) => sectionOn(section, coming.length)))),
      many: isPlural(sections, coming.length),
    };
  if (stays.size === 0) return { what: `All ${countWord(sections.length)} sections that it holds`, many: true };
  if (stays.size <= MAX_NAMED && !isPart) {
    const left = SECTIONS.filter((section) => stays.has(section)).map((section) => sectionOn(section, coming.length));
    return { what: `Everything but ${joinWithAnd(left)}`, many: false };
  }
  return { what: `${capitalise(countWord(sections.length))} sections`, many: true };
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
  const sends = describeSends(profile, left, coming);
  return sends ? `${also}; ${sends}` : `${also}, except ${plural(left.length, 'setting')}`;
}

/** "of the sends only Mix 3", where all that is left out are whole sends, the same on every strip. */
function describeSends(profile: Profile, left: readonly Address[], coming: ReadonlySet<string>): string | undefined {
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
  return `of the sends only ${[...kept].map((to) => profile.plainNames[to] ?? to).join(', ')}`;
}

/** What a scope does with a scene, which may hold only a part of a desk: nothing is said of what it lacks. */
export function sentenceOfScene(profile: Profile, scope: Scope, scene: State, safes: Safes = [], names = scene) {
  const part = profileOfPart(profile, scene);
  return describeScope(part, compileScope(part, scope, safes, scene), names, profile);
}

/** What a part of a desk holds: "EQs and inserts on 90 strips". */
export function partWords(profile: Profile, part: State): string {
  const held = new Set(Object.values(part).flatMap((strip) => [...sectionsIn(strip)]));
  const sections = SECTIONS.filter((section) => held.has(section));
  const strips = Object.keys(part);
  const what =
    sections.length <= MAX_NAMED
      ? capitalise(joinWithAnd(sections.map((section) => sectionOn(section, strips.length))))
      : `${capitalise(countWord(sections.length))} sections`;
  const where =
    strips.length <= MAX_NAMED
      ? joinWithAnd(strips.map((strip) => displayName(profile, part, strip)))
      : countStrips(strips);
  return `${what} on ${where}`;
}
