import type { Family } from '@old-echo/core/desk/profile';
import { asLane, isOff } from '@old-echo/core/desk/setting';
import type { StripState } from '@old-echo/core/desk/state';
import { formatValue, plural } from '@old-echo/core/phrases/format-value';
import { insertChain } from '@old-echo/core/signal/insert-chain';

/** A section in a few words, for when it is folded: "off", "5 sends on", "drive, echo (off)", "−4.0 dB". */
export function sectionSummary(family: Family, section: string, strip: StripState): string {
  const keys = family.keys.filter((key) => key.startsWith(`${section}/`));
  const shown = (key: string) => {
    const spec = family.settings[key];
    return spec ? formatValue(spec, strip[key]) : '';
  };
  if (section === 'sends') {
    const open = keys.filter((key) => {
      const spec = family.settings[key];
      return key.endsWith('/level') && spec && !isOff(spec, strip[key]) && strip[key.replace(/level$/, 'on')] !== false;
    });
    return open.length === 0 ? 'no sends on' : `${plural(open.length, 'send')} on`;
  }
  if (section === 'inserts' && strip['inserts/1/kind'] !== undefined) {
    const chain = insertChain(strip).map(({ kind, on }) => (on ? kind : `${kind} (off)`));
    return chain.length === 0 ? 'none loaded' : chain.join(', ');
  }
  if (section === 'inserts' && strip['inserts/kind'] !== undefined)
    return `${String(strip['inserts/kind'])}${strip['inserts/on'] === false ? ' (off)' : ''}`;
  if (section === 'inserts' && strip['inserts/device'] !== undefined)
    return strip['inserts/device'] === 'none'
      ? 'none'
      : `${String(strip['inserts/device'])}${strip['inserts/on'] === true ? '' : ' (off)'}`;
  if (section === 'automation') {
    const lanes = keys.filter((key) => asLane(strip[key]).length > 0);
    return lanes.length === 0 ? 'none' : plural(lanes.length, 'lane');
  }
  if (section === 'routing') return `${keys.filter((key) => strip[key] === true).length} assigned`;
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
