import { GLOBAL_FAMILY, type Profile } from '../desk/profile';
import { capital, countWord, plural, sectionName } from '../desk/wording';
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
  const staying = strips.length - coming.size;
  if (coming.size === 0)
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

/** The sentence as one line of text. */
export const plainText = (phrases: readonly Phrase[]): string => phrases.map((p) => p.text).join('');
