import { sectionOf } from '../desk/address';
import { type Profile, specOf } from '../desk/profile';
import type { State } from '../desk/state';
import type { ConversionReason } from '../library/conversion-reason';
import type { ConversionNote } from '../library/convert-strip';
import { formatValue, fullSettingName, plural, sectionName } from './format-value';

/** What became of one part of a strip that did not come along as it was. */
export interface ReportLine {
  /** The strip it was to land on. */
  readonly strip: string;
  readonly how: 'clamped' | 'left behind';
  /** "EQ band 3 gain". */
  readonly about: string;
  /** "Gate, 5 settings", "EQ band 3 gain +2.2 dB". */
  readonly what: string;
  /** "120 ms set to 100 ms, limit of the range". */
  readonly why: string;
}

function reasonWords(why: ConversionReason, { name }: Profile): string {
  switch (why) {
    case 'range':
      return 'limit of the range';
    case 'no equivalent':
      return `no equivalent on ${name}`;
    case 'not on desk':
      return `not on ${name}`;
    case 'destination left behind':
      return 'its destination was not carried over';
    case 'group left behind':
      return 'its group was not carried over; now to main';
    case 'no band free':
      return 'no free EQ band';
    case 'band width fixed':
      return 'band width is fixed';
    case 'no inserts':
      return 'no insert slots';
    case 'no insert free':
      return 'no free insert slot';
    case 'no strip':
      return `no such strip on ${name}`;
    case 'no strip free':
      return 'no free strip';
    case 'no group free':
      return 'no free group';
    case 'no effect return free':
      return 'no free effect return';
    case 'partner elsewhere':
      return 'its stereo partner is not beside it';
  }
}

/** With more dropped settings than this, the section is reported as one line. */
const MAX_LISTED_SETTINGS = 3;

/**
 * Notes as one reads them, strip by strip: a section of which much stayed behind is told once. `fromOf` says which strip of the
 * other desk something comes from, and `names` what strips are called there.
 */
export function conversionReport(
  from: Profile,
  to: Profile,
  notes: readonly ConversionNote[],
  fromOf: (onto: string) => string,
  names?: State,
): ReportLine[] {
  const lines: ReportLine[] = [];
  const told = new Set<string>();
  for (const note of notes) {
    const section = sectionOf(note.key);
    const address = `${fromOf(note.strip)}/${note.key}`;
    if (note.to !== undefined) {
      const [was, is] = [specOf(from, address), specOf(to, `${note.strip}/${note.key}`)];
      const shown = (spec: typeof was, value: ConversionNote['from']) =>
        spec ? formatValue(spec, value) : String(value);
      lines.push({
        strip: note.strip,
        how: 'clamped',
        about: fullSettingName(from, address, names),
        what: fullSettingName(from, address, names),
        why: `${shown(was, note.from)} set to ${shown(is ?? was, note.to)}, ${reasonWords(note.why, to)}`,
      });
      continue;
    }
    const alike = notes.filter(
      (other) =>
        other.strip === note.strip &&
        other.to === undefined &&
        other.why === note.why &&
        sectionOf(other.key) === section,
    );
    if (alike.length > MAX_LISTED_SETTINGS) {
      const id = `${note.strip}/${section}/${note.why}`;
      if (!told.has(id))
        lines.push({
          strip: note.strip,
          how: 'left behind',
          about: sectionName(section),
          what: `${sectionName(section)}, ${plural(alike.length, 'setting')}`,
          why: reasonWords(note.why, to),
        });
      told.add(id);
      continue;
    }
    const spec = specOf(from, address);
    const value = note.key === 'label/name' || !spec ? String(note.from) : formatValue(spec, note.from);
    const whole = note.key === 'label/name';
    lines.push({
      strip: note.strip,
      how: 'left behind',
      about: whole ? value : fullSettingName(from, address, names),
      what: whole ? value : `${fullSettingName(from, address, names)} ${value}`,
      why: reasonWords(note.why, to),
    });
  }
  return lines;
}

/** Lines of several scenes as one report: what is told of a setting in more than one of them is told once. */
export function mergeReports(scenes: readonly (readonly ReportLine[])[]): ReportLine[] {
  const found = new Map<string, { line: ReportLine; scenes: number; same: boolean }>();
  for (const line of scenes.flat()) {
    const id = `${line.strip}/${line.how}/${line.about}`;
    const known = found.get(id);
    if (known) found.set(id, { ...known, scenes: known.scenes + 1, same: known.same && known.line.what === line.what });
    else found.set(id, { line, scenes: 1, same: true });
  }
  return [...found.values()].map(({ line, scenes: n, same }) =>
    same ? line : { ...line, what: `${line.about}, varies over ${plural(n, 'scene')}` },
  );
}
