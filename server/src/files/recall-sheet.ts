import escapeHtml from 'escape-html';

import type { OutboardView } from '@old-echo/core/contracts/outboard';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { defaultValue, type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { sameValue } from '@old-echo/core/desk/setting';
import { displayName, type State } from '@old-echo/core/desk/state';
import { stripsInUse } from '@old-echo/core/desk/strips-in-use';
import { formatValue, sectionName, settingName } from '@old-echo/core/phrases/format-value';

import { printedPage } from '../http/printed-page';

/** What is always on paper, moved or not: one sets these first. */
const ALWAYS_LISTED: ReadonlySet<string> = new Set([
  'source/socket',
  'preamp/gain',
  'preamp/trim',
  'preamp/phantom',
  'fader/level',
  'pan/position',
  'mute/on',
]);

interface Scene {
  readonly title: string;
  readonly note: string;
  readonly state: State;
  readonly outboard: readonly OutboardView[];
  /** Where the photos of its devices are. */
  readonly photos: string;
}

/**
 * A scene for paper: each strip in use, section by section, in trade units. What stands as on an untouched desk is left out, and
 * the page says so; at its end is what no desk stores.
 */
export function recallSheet(profile: Profile, { title, note, state, outboard, photos }: Scene): string {
  const strips = stripsInUse(profile, state).map((strip) => {
    const family = stripFamily(profile, strip);
    const rows = (family?.sections ?? []).flatMap((section) => {
      if (section === 'view') return [];
      const bands = section === 'eq' && state[strip]?.['eq/on'] === true ? listBands(profile, strip, state) : [];
      const told = (family?.keys ?? []).flatMap((key) => {
        const [spec, value] = [family?.settings[key], state[strip]?.[key]];
        if (!key.startsWith(`${section}/`) || !spec || value === undefined || key === 'label/name') return [];
        if (!ALWAYS_LISTED.has(key) && sameValue(spec, value, defaultValue(profile, strip, spec))) return [];
        if (isIdle(state[strip] ?? {}, key) || BAND.test(key)) return [];
        return [`${escapeHtml(settingName(profile, key, state))} <b>${escapeHtml(formatValue(spec, value))}</b>`];
      });
      const all = [...told, ...bands];
      return all.length > 0 ? [`<tr><td>${sectionName(section)}<td>${all.join(' · ')}`] : [];
    });
    return `<section><h2>${escapeHtml(displayName(profile, state, strip))} <small>${escapeHtml(profile.plainNames[strip] ?? strip)}</small></h2><table>${rows.join('')}</table></section>`;
  });
  return printedPage(
    title,
    `<p>${escapeHtml(note)}</p><p>Strips in use on ${escapeHtml(profile.name)}. Left out: defaults, and processors that are off.</p>
${strips.join('\n')}${outboardSection(outboard, photos)}`,
  );
}

const BAND = /^eq\/([^/]+)\//;

/** EQ bands as one turns them, each with all it has: "Band 2 bell 420 Hz −1.5 dB Q 1.2"; flat ones are left out. */
function listBands(profile: Profile, strip: string, state: State): string[] {
  const family = stripFamily(profile, strip);
  const [own, keys] = [state[strip] ?? {}, family?.keys.filter((key) => BAND.test(key)) ?? []];
  const bands = [...new Set(keys.map((key) => BAND.exec(key)?.[1] ?? ''))];
  return bands.flatMap((band) => {
    const at = (name: string) => `eq/${band}/${name}`;
    if (own[at('on')] === false || (own[at('gain')] === 0 && own[at('kind')] !== 'notch')) return [];
    const values = ['kind', 'freq', 'gain', 'q'].flatMap((name) => {
      const [spec, value] = [family?.settings[at(name)], own[at(name)]];
      return spec && value !== undefined ? [formatValue(spec, value)] : [];
    });
    return [`${escapeHtml(settingName(profile, `eq/${band}`))} <b>${escapeHtml(values.join(' '))}</b>`];
  });
}

/** Settings of a processor that is not loaded, or of a send that is off, say nothing. */
function isIdle(strip: Readonly<Record<string, unknown>>, key: string): boolean {
  const insert = /^inserts\/(\d+)\/([^/]+)\//.exec(key);
  if (insert) return strip[`inserts/${insert[1]}/kind`] !== insert[2];
  const processor = /^(gate|eq|compressor)\//.exec(key)?.[1];
  return processor !== undefined && key !== `${processor}/on` && strip[`${processor}/on`] === false;
}

/** What no desk stores. */
function outboardSection(outboard: readonly OutboardView[], photos: string): string {
  if (outboard.length === 0) return '';
  const devices = outboard.map(({ name, controls, note, photo }) => {
    const rows = controls.map(
      (control) => `<tr><td>${escapeHtml(control.name)}<td><b>${escapeHtml(control.value)}</b>`,
    );
    const picture = photo === null ? '' : `<img src="${photos}/${photo}" alt="Photo of ${escapeHtml(name)}">`;
    return `<section><h2>${escapeHtml(name)}</h2><p>${escapeHtml(note)}</p><table>${rows.join('')}</table>${picture}</section>`;
  });
  return `<h1>Outboard gear</h1>${devices.join('\n')}`;
}

/** The differences of two scenes for paper: what was, what is, strip by strip. */
export function differencesSheet(profile: Profile, a: Scene, b: Scene): string {
  const changes = diffStates(profile, a.state, b.state);
  const strips = profile.strips.flatMap((strip) => {
    const own = changes.filter((change) => change.strip === strip);
    const rows = own.map(({ key, was, now }) => {
      const spec = stripFamily(profile, strip)?.settings[key];
      const shown = (value: typeof was) => (spec ? escapeHtml(formatValue(spec, value)) : '');
      return `<tr><td>${sectionName(key.slice(0, key.indexOf('/')))}<td>${escapeHtml(settingName(profile, key, b.state))}<td class="was">${shown(was)}<td><b>${shown(now)}</b>`;
    });
    return own.length === 0
      ? []
      : [
          `<section><h2>${escapeHtml(displayName(profile, b.state, strip))} <small>${escapeHtml(profile.plainNames[strip] ?? strip)}</small></h2><table><tr><th>Section<th>Setting<th>${escapeHtml(a.title)}<th>${escapeHtml(b.title)}${rows.join('')}</table></section>`,
        ];
  });
  return printedPage(
    `From ${a.title} to ${b.title}`,
    `<p>${changes.length} ${changes.length === 1 ? 'setting differs' : 'settings differ'}.</p>${strips.join('\n')}`,
  );
}
