import { sectionOf } from '../desk/address';
import { diffStrip } from '../desk/diff-states';
import { linkedPartner } from '../desk/linked-pair';
import { controlStrips, type Profile, stripFamily } from '../desk/profile';
import { asLane, isOff } from '../desk/setting';
import type { State } from '../desk/state';
import type { Picks } from './recipe';

/** What a picked cell depends on and what differs from the scene it came from. */
export interface Dependency {
  readonly kind: 'return' | 'level' | 'members' | 'processor' | 'pair' | 'muted';
  /** The strips whose cells were taken. */
  readonly strips: readonly string[];
  /** The strip that they lean on. */
  readonly on: string;
  /** The scene that they were taken from. */
  readonly scene: string;
  /** The cells that would have to be taken from it as well. */
  readonly fix: readonly string[];
}

/** Everything that picked cells depend on and that was not picked with them; in desk order of what they depend on. */
export function findDependencies(
  profile: Profile,
  state: State,
  origins: Picks,
  stateOf: (scene: string) => State,
): Dependency[] {
  const found = new Map<string, Dependency>();
  const note = (kind: Dependency['kind'], strip: string, on: string, scene: string, fix: readonly string[]) => {
    if (fix.length === 0) return;
    const key = `${kind} ${on} ${scene}`;
    const known = found.get(key);
    const strips = [...new Set([...(known?.strips ?? []), strip])];
    found.set(key, { kind, strips, on, scene, fix: [...new Set([...(known?.fix ?? []), ...fix])] });
  };
  for (const [cell, scene] of Object.entries(origins)) {
    const [strip = '', section = ''] = cell.split('/');
    const there = stateOf(scene);
    const look = new PickedStrip(profile, state, there, strip);
    if (section === 'sends')
      for (const fx of look.sendsTo()) note('return', strip, fx, scene, look.changedCells(fx, ['inserts']));
    if (section === 'automation') note('processor', strip, strip, scene, look.insertsLost());
    if (section === 'routing' || section === 'fader' || section === 'mute')
      for (const control of look.controls()) {
        note('level', strip, control, scene, look.changedCells(control, ['fader']));
        if (section === 'routing') note('members', strip, control, scene, look.otherMembers(control));
        if (look.isNewlyMutedBy(control)) note('muted', strip, control, scene, [`${control}/mute`]);
      }
    const other = linkedPartner(profile, state, strip);
    if (other !== undefined && section !== 'label' && section !== 'view' && section !== 'source')
      note('pair', strip, other, scene, look.changedCells(other, [section]));
  }
  const place = new Map(profile.strips.map((strip, i) => [strip, i]));
  return [...found.values()].sort((a, b) => (place.get(a.on) ?? 0) - (place.get(b.on) ?? 0));
}

/** One strip of a result beside the scene that a cell of it was taken from. */
class PickedStrip {
  constructor(
    private readonly profile: Profile,
    private readonly here: State,
    private readonly there: State,
    private readonly strip: string,
  ) {}

  private get own() {
    return this.here[this.strip] ?? {};
  }

  /** The effect returns that the strip is sent to. */
  sendsTo(): string[] {
    const settings = stripFamily(this.profile, this.strip)?.settings ?? {};
    return this.of('fx').filter((fx) => {
      const spec = settings[`sends/${fx}/level`];
      return spec && this.own[`sends/${fx}/on`] !== false && !isOff(spec, this.own[`sends/${fx}/level`]);
    });
  }

  /** The cells of a strip, of these sections, that are otherwise there. */
  changedCells(strip: string, sections: readonly string[]): string[] {
    const [here, there] = [this.here[strip], this.there[strip]];
    if (!here || !there) return [];
    const changed = new Set(diffStrip(this.profile, strip, there, here).map(({ section }) => section));
    return sections.filter((section) => changed.has(section)).map((section) => `${strip}/${section}`);
  }

  /** The DCAs, mute groups and groups that the strip belongs to. */
  controls(): string[] {
    return [...controlStrips(this.profile), ...this.of('group')].filter(
      (control) => this.own[`routing/${control}`] === true,
    );
  }

  /** The routing of strips that belong to a group, DCA or mute group on one side only. */
  otherMembers(control: string): string[] {
    const key = `routing/${control}`;
    return this.profile.strips
      .filter(
        (strip) => strip !== this.strip && (this.here[strip]?.[key] ?? false) !== (this.there[strip]?.[key] ?? false),
      )
      .map((strip) => `${strip}/routing`);
  }

  /** Whether a control mutes the strip here, which is open, and did not there. */
  isNewlyMutedBy(control: string): boolean {
    const muted = (state: State, strip: string) => state[strip]?.['mute/on'] === true;
    return !muted(this.here, this.strip) && muted(this.here, control) && !muted(this.there, control);
  }

  /** The inserts, where a lane of automation moves a processor that is another one here, or none. */
  insertsLost(): string[] {
    const lost = Object.entries(this.own).some(([key, value]) => {
      if (sectionOf(key) !== 'automation' || !key.startsWith('automation/inserts') || asLane(value).length === 0)
        return false;
      const kind = `${key.slice('automation/'.length)}/kind`;
      return this.own[kind] !== this.there[this.strip]?.[kind];
    });
    return lost ? [`${this.strip}/inserts`] : [];
  }

  private of(family: string): readonly string[] {
    return this.profile.families.find(({ id }) => id === family)?.strips ?? [];
  }
}
