import type { Family } from '../desk/profile';
import type { Value } from '../desk/setting';
import type { StripState } from '../desk/state';
import type { ConversionReason } from './conversion-reason';

/** Writes a value to a key of the target desk, or records why there is none. */
export type Assign = (key: string, landed: string | undefined, value: Value, missing: ConversionReason) => void;

const BAND = /^eq\/(\d+|low|high)\//;

export const isBandKey = (key: string): boolean => BAND.test(key);

const bandsOf = (keys: readonly string[]): string[] => [
  ...new Set(keys.flatMap((key) => BAND.exec(key)?.slice(1) ?? [])),
];

/** What a band is: its own choice where it has one, else what its name says. */
const bandKind = (family: Family, settings: StripState, band: string): string =>
  String(settings[`eq/${band}/kind`] ?? family.settings[`eq/${band}/kind`]?.default ?? `${band} shelf`);

/**
 * Puts the bands of an EQ into one that has others. Each goes to a band that can be of its kind, the strongest first; a shelf
 * that is named for its place takes only its own. Bands of the other EQ that stay free are made flat.
 */
export function convertBands(from: Family, to: Family, settings: StripState, take: Assign): void {
  const gain = (band: string) => Number(settings[`eq/${band}/gain`] ?? 0);
  const bands = bandsOf(Object.keys(settings))
    .filter((band) => settings[`eq/${band}/on`] !== false)
    .sort((a, b) => Math.abs(gain(b)) - Math.abs(gain(a)));
  const free = bandsOf(to.keys);
  const missing = 'no band free';
  for (const band of bands) {
    const kind = bandKind(from, settings, band);
    const place = findBand(to, free, band, kind);
    if (place !== undefined) free.splice(free.indexOf(place), 1);
    for (const [key, value] of Object.entries(settings)) {
      if (!key.startsWith(`eq/${band}/`)) continue;
      const name = key.slice(`eq/${band}/`.length);
      const landed = place === undefined ? undefined : `eq/${place}/${name}`;
      if (landed === undefined) {
        // One word for a band, not one for each of its settings; a flat one says nothing.
        if (name === (kind === 'notch' ? 'kind' : 'gain')) take(key, undefined, value, missing);
      } else if (to.settings[landed] || name === 'q') take(key, landed, value, 'band width fixed');
    }
    // A band that is named for its place brings what it is into one that chooses.
    if (place !== undefined && settings[`eq/${band}/kind`] === undefined && to.settings[`eq/${place}/kind`])
      take(`eq/${place}/kind`, `eq/${place}/kind`, kind, missing);
  }
  for (const place of free)
    if (bands.length > 0 && to.settings[`eq/${place}/gain`])
      take(`eq/${bands[0]}/gain`, `eq/${place}/gain`, 0, missing);
}

function findBand(to: Family, free: readonly string[], band: string, kind: string): string | undefined {
  const can = (place: string): boolean => {
    const spec = to.settings[`eq/${place}/kind`];
    return spec?.kind === 'choice' ? spec.options.includes(kind) : `${place} shelf` === kind;
  };
  const usual = free.find((place) => to.settings[`eq/${place}/kind`]?.default === kind);
  return [band, usual ?? '', ...free].find((place) => free.includes(place) && can(place));
}
