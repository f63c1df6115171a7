import type { Family } from '@old-echo/core/desk/profile';
import { isOff } from '@old-echo/core/desk/setting';
import type { StripState } from '@old-echo/core/desk/state';
import { plural, showValue } from '@old-echo/core/desk/wording';

/** A section in a few words, for when it is folded: "off", "5 open", "−4.0 dB". */
export function sectionGist(family: Family, section: string, strip: StripState): string {
  const keys = family.keys.filter((key) => key.startsWith(`${section}/`));
  const shown = (key: string) => {
    const spec = family.settings[key];
    return spec ? showValue(spec, strip[key]) : '';
  };
  if (section === 'sends') {
    const open = keys.filter((key) => {
      const spec = family.settings[key];
      return key.endsWith('/level') && spec && !isOff(spec, strip[key]) && strip[key.replace(/level$/, 'on')] !== false;
    });
    return open.length === 0 ? 'none open' : `${open.length} open`;
  }
  if (section === 'automation') {
    const lanes = keys.filter((key) => (strip[key] as readonly unknown[] | undefined)?.length);
    return lanes.length === 0 ? 'none' : plural(lanes.length, 'lane');
  }
  if (section === 'routing') return `to ${keys.filter((key) => strip[key] === true).length}`;
  const main = [
    `${section}/on`,
    `${section}/level`,
    `${section}/position`,
    `${section}/socket`,
    `${section}/gain`,
    `${section}/name`,
  ].find((key) => strip[key] !== undefined);
  return main ? shown(main) : plural(keys.length, 'setting');
}
