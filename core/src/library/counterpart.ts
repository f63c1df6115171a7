import { isControl } from '../desk/profile';
import { joinSettings, type State, withSettings } from '../desk/state';
import { stripsInUse } from '../desk/strips-in-use';
import { convertScene } from './convert-scene';
import { filterSettings, toAddresses } from './convert-strip';
import { type LabelledDesk, matchAlike } from './match-strips';

/** What says which strip it is rather than how it sounds: each desk has its own. */
const OWN_SECTIONS: ReadonlySet<string> = new Set(['label', 'source', 'view']);

/** A mix of one desk as another desk would hold it. */
export interface Counterpart {
  /** Strips without a counterpart, and settings that only one of the desks has, are as they are here. */
  readonly state: State;
  /** How many strips have one. */
  readonly matched: number;
  /** Strips in use that have none: on the desk it is seen from, and on its own. */
  readonly here: readonly string[];
  readonly there: readonly string[];
}

/** A mix of another desk seen from a desk: strip by strip, by part and by likeness of name, as carry-over matches them. */
export function counterpartOf(there: LabelledDesk, here: LabelledDesk): Counterpart {
  const matches = [...matchAlike(there, here).values()];
  const { state } = convertScene(there.profile, there.state, here.profile, matches);
  const heard = Object.entries(state).map(([strip, settings]) =>
    toAddresses(
      strip,
      filterSettings(settings, (section) => !OWN_SECTIONS.has(section)),
    ),
  );
  const inUse = ({ profile, state: own }: LabelledDesk) =>
    stripsInUse(profile, own).filter((strip) => !isControl(strip));
  const [from, to] = [new Set(matches.map((match) => match.from)), new Set(matches.map((match) => match.to))];
  return {
    state: withSettings(here.state, joinSettings(heard)),
    matched: matches.length,
    here: inUse(here).filter((strip) => !to.has(strip)),
    there: inUse(there).filter((strip) => !from.has(strip)),
  };
}
