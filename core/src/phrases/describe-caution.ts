import { familyOf, readAddress } from '../desk/address';
import { linkedPartner } from '../desk/linked-pair';
import { type Profile, specOf } from '../desk/profile';
import { isNumberSpec, isOff } from '../desk/setting';
import { displayName, type State, withSettings } from '../desk/state';
import type { Caution, CautionFact, CautionItem } from '../recall/caution';
import type { PlannedChange } from '../recall/planned-changes';
import { describeChanges } from './describe-changes';
import {
  capitalise,
  formatValue,
  fullSettingName,
  isOne,
  joinWithAnd,
  plural,
  sectionName,
  settingName,
} from './format-value';

/** What a caution is read with: the desk as the restore leaves it, whose labels name the strips, and all that it changes. */
export interface CautionReading {
  readonly profile: Profile;
  readonly before: State;
  readonly after: State;
  readonly changes: readonly PlannedChange[];
}

/** How the cautions of a plan are read, which was made while the desk stood `before`. */
export const readingOf = (profile: Profile, before: State, changes: readonly PlannedChange[]): CautionReading => ({
  profile,
  before,
  after: withSettings(before, Object.fromEntries(changes.map(({ address, to }) => [address, to]))),
  changes,
});

/** A caution in words: what would happen, and what makes it so. The second may be empty. */
export interface CautionWords {
  readonly title: string;
  readonly detail: string;
}

type Told = Pick<Caution, 'kind' | 'form' | 'items'>;

/** "Brass 1 gets 9.4 dB louder in Main L/R", "Preamp gain +20.0 to +23.4 dB". */
export function describeCaution(caution: Told, reading: CautionReading): CautionWords {
  const { profile, after } = reading;
  const { kind, form, items } = caution;
  const [first] = items;
  if (!first) return { title: '', detail: '' };
  const name = (strip: string) => displayName(profile, after, strip);
  const one = isOne(items.length);
  const who = one ? name(first.strip) : plural(items.length, 'strip');
  const firstChanges = describeChanges(profile, after, changesOf(first, reading));
  switch (kind) {
    case 'louder':
    case 'behind':
    case 'lane':
      return {
        title: capitalise(`${WHERE_LOUDER[kind]}${louder(items, name, form === 'bounded')}`),
        detail: causesOfRise(first, reading),
      };
    case 'whole':
      return {
        title: `All in ${name(first.strip)}${andMore(items)} together gets up to ${amount(first)} louder`,
        detail: 'No strip by itself rises so far, but they rise together.',
      };
    case 'ringing':
      return first.fact.is === 'repeats'
        ? {
            title: `${name(first.strip)}${andMore(items)} hardly ${one ? 'dies' : 'die'} away`,
            detail: `${items.map((item) => describeCautionItem(item, reading)).join(', ')}: each repeat is nearly as loud as the last.`,
          }
        : {
            title: `${name(first.strip)}${andMore(items)} can ring: ${describeCautionItem(first, reading)}`,
            detail: 'A narrow band rises, or a notch goes, while a microphone is open there.',
          };
    case 'global':
      return globalWords(first);
    case 'phantom':
      return { title: `48 V ${switchedWords(items)} for ${who}`, detail: phantomDetail(form, one) };
    case 'source':
      return {
        title: `Check the gain of ${who}`,
        detail: `${one ? 'It was' : 'They were'} set for ${one ? 'another source' : 'other sources'}. Listen to the strip, or look at its meter, before you unmute it.`,
      };
    case 'gain':
      return {
        title: `Preamp gain of ${who} rises${one && first.fact.is === 'gained' ? ` by ${decibels(first.fact.by)}` : ''}`,
        detail: 'Audible now: louder everywhere it goes, and may feed back or clip.',
      };
    case 'patch':
      return form === 'muted'
        ? { title: `Patch changes on ${who}`, detail: 'Muted during the change, unmuted at the end.' }
        : { title: `Patch changes on ${who} while audible`, detail: firstChanges };
    case 'automation':
      return {
        title:
          form === 'stays'
            ? `Processor automation on ${who} is left out`
            : `Processor automation on ${who} would be lost`,
        detail: `${items.map((item) => describeCautionItem(item, reading)).join(', ')}: ${form === 'stays' ? 'their processor is not there' : 'their processor is removed'}.`,
      };
    case 'lost':
      return {
        title: `${lostWords(items)} on ${who} would be lost`,
        detail: items
          .slice(0, 3)
          .map((item) => `${name(item.strip)}: ${describeCautionItem(item, reading)}`)
          .join('; '),
      };
    case 'silent':
      return silentWords(items, reading);
    case 'click':
      return { title: `Inserts or delay change on ${who}`, detail: `A click is likely. ${firstChanges}` };
    case 'polarity':
      return form === 'half'
        ? {
            title: `Polarity is inverted on ${who} but not on the other side of the pair`,
            detail: 'Centre content cancels.',
          }
        : {
            title: `Polarity changes on ${who} while audible`,
            detail: 'What other microphones pick up of it cancels, or adds up again.',
          };
    case 'pair': {
      const partners = items.map(({ strip }) => name(linkedPartner(profile, after, strip) ?? strip));
      const stay = partners.length === 1 ? 'stays as it is' : 'stay as they are';
      return {
        title: one
          ? `${who} changes, its stereo partner stays`
          : `One side of ${plural(items.length, 'stereo pair')} changes alone`,
        detail: `${joinWithAnd(partners)} ${stay}: the two are linked, and would no longer be alike.`,
      };
    }
    case 'effect': {
      const { fact } = first;
      return {
        title: `${who} ${one ? 'feeds' : 'feed'} a different effect`,
        detail: fact.is === 'fed' ? `${name(fact.effect)} is ${fact.holds} now; in the scene it was ${fact.held}.` : '',
      };
    }
  }
}

/** One strip of a caution: "opens", "+9.4 dB", "Source Stage 9 to Stage 12". */
export function describeCautionItem(item: CautionItem, reading: CautionReading): string {
  const { profile, before, after } = reading;
  const { fact } = item;
  switch (fact.is) {
    case 'rises':
      return `${item.rise === Infinity ? 'opens' : decibels(item.rise ?? 0)}${fact.isBehind ? ' behind a mute' : ''}`;
    case 'gained':
      return decibels(fact.by);
    case 'boosted':
      return `${decibels(item.rise ?? 0)} at ${frequency(fact.hertz)}`;
    case 'repeats':
      return `repeats at ${fact.percent} %`;
    case 'changes':
    case 'fed':
      return describeChanges(profile, after, changesOf(item, reading));
    case 'switched': {
      const [off, on] = item.causes[0]?.endsWith('/polarity') ? ['normal', 'inverted'] : ['turns off', 'turns on'];
      return fact.to ? on : off;
    }
    case 'silent':
      return 'goes silent';
    case 'leaves':
      return `no longer in ${joinWithAnd((item.outputs ?? []).slice(0, 3).map((strip) => displayName(profile, after, strip)))}`;
    case 'lane':
      return plural(fact.points, 'point');
    case 'emptied':
      return [
        ...fact.lanes.map(([key, points]) => `${plural(points, 'point')} of ${settingName(profile, key, before)}`),
        ...fact.notes.map((note) => `the note “${note}”`),
      ].join(', ');
  }
}

const changesOf = ({ causes }: CautionItem, { changes }: CautionReading): PlannedChange[] =>
  changes.filter(({ address }) => causes.includes(address));

const decibels = (by: number): string => `+${by.toFixed(1)} dB`;
const amount = ({ rise = 0 }: CautionItem): string => `${rise.toFixed(1)} dB`;
const andMore = (items: readonly CautionItem[]): string => (items.length > 1 ? ` and ${items.length - 1} more` : '');

const frequency = (hertz: number): string =>
  hertz >= 1000 ? `${Number((hertz / 1000).toFixed(2))} kHz` : `${Math.round(hertz)} Hz`;

const WHERE_LOUDER = { louder: '', behind: 'Behind a mute, ', lane: 'With its automation, ' } as const;

/** "Brass 1 opens in Main L/R and 3 mixes", "7 strips open in …; 2 more strips get louder". */
function louder(items: readonly CautionItem[], name: (strip: string) => string, bounded: boolean): string {
  // No caution of this kind is without the path that makes it.
  const [worst] = items as [CautionItem];
  const isBehind = ({ fact }: CautionItem) => fact.is === 'rises' && fact.isBehind === true;
  const others = (n: number) =>
    n === 0 ? '' : `; ${plural(n, 'more strip', 'more strips')} ${isOne(n) ? 'gets' : 'get'} louder too`;
  if (worst.rise === Infinity) {
    const opening = items.filter((item) => item.rise === Infinity && !isBehind(item));
    const who =
      opening.length > 2 ? plural(opening.length, 'strip') : joinWithAnd(opening.map((item) => name(item.strip)));
    return `${who} ${isOne(opening.length) ? 'opens' : 'open'} in ${places(opening, name)}${others(items.length - opening.length)}`;
  }
  const itself = items.length === 1 && worst.outputs?.length === 1 && worst.outputs[0] === worst.strip;
  const by = `${bounded ? 'up to ' : ''}${amount(worst)} louder`;
  return `${name(worst.strip)} gets ${by}${itself ? '' : ` in ${places([worst], name)}`}${others(items.length - 1)}`;
}

/** "Main L/R", "Main L/R and Wren ears", "Main L/R and 4 more": where some strips are heard. */
function places(items: readonly CautionItem[], name: (strip: string) => string): string {
  const rank = (output: string) => ['main', 'mix', 'matrix'].indexOf(familyOf(output));
  const all = [...new Set(items.flatMap(({ outputs = [] }) => outputs))].sort((a, b) => rank(a) - rank(b));
  return all.length <= 2 ? joinWithAnd(all.map(name)) : `${name(all[0] ?? '')} and ${all.length - 1} more`;
}

/** "Preamp gain +20.0 to +28.0 dB, Fader −∞ to −2.1 dB". */
function causesOfRise({ strip, causes }: CautionItem, { profile, after, changes }: CautionReading): string {
  const parts = causes.flatMap((address) => {
    const change = changes.find((one) => one.address === address);
    const spec = change && specOf(profile, address);
    if (!change || !spec) return [];
    const other = readAddress(address)?.strip ?? strip;
    const who = other === strip ? '' : `${displayName(profile, after, other)} `;
    if (change.key === 'mute/on') return [`${who}${who ? 'unmutes' : 'Unmutes'}`];
    const what = fullSettingName(profile, address, after);
    const from = formatValue(spec, change.from, !isNumberSpec(spec) || isOff(spec, change.from));
    return [
      `${who}${who ? what.charAt(0).toLowerCase() + what.slice(1) : what} ${from} to ${formatValue(spec, change.to)}`,
    ];
  });
  return parts.slice(0, 3).join(', ') + (parts.length > 3 ? ` and ${parts.length - 3} more` : '');
}

/** "Headphones get 27.0 dB louder", "Clock changes". */
function globalWords({ rise, causes }: CautionItem): CautionWords {
  const section = readAddress(causes[0] ?? '')?.section ?? '';
  const many = section === 'headphones';
  const what =
    rise === Infinity
      ? many
        ? 'open'
        : 'opens'
      : rise !== undefined && rise > 0
        ? `${many ? 'get' : 'gets'} ${rise.toFixed(1)} dB louder`
        : many
          ? 'change'
          : 'changes';
  return { title: `${sectionName(section)} ${what}`, detail: GLOBAL_DETAIL[section] ?? '' };
}

const GLOBAL_DETAIL: Readonly<Record<string, string>> = {
  monitor: 'Audible in the control room, whatever the faders do.',
  headphones: 'Someone may have them on.',
  talkback: 'What is said there is audible on its outputs.',
  clock: 'Everything that follows this clock is interrupted, recordings too.',
};

function switchedWords(items: readonly CautionItem[]): string {
  const is = (to: boolean) => items.every(({ fact }) => fact.is === 'switched' && fact.to === to);
  return is(true) ? 'turns on' : is(false) ? 'turns off' : 'changes';
}

function phantomDetail(form: Caution['form'], one: boolean): string {
  if (form === 'audible') return one ? 'Can thump: not muted.' : 'Can thump: not all are muted.';
  if (form === 'muted') return 'Nothing of it is audible while it settles.';
  return 'Nothing of it is audible now. It can thump if unmuted before it has settled.';
}

function lostWords(items: readonly CautionItem[]): string {
  const emptied = items
    .map(({ fact }) => fact)
    .filter((fact): fact is Extract<CautionFact, { is: 'emptied' }> => fact.is === 'emptied');
  const points = emptied.reduce((n, { lanes }) => n + lanes.reduce((sum, [, many]) => sum + many, 0), 0);
  const notes = emptied.reduce((n, fact) => n + fact.notes.length, 0);
  const what = [points > 0 ? `${plural(points, 'point')} of automation` : '', notes > 0 ? plural(notes, 'note') : ''];
  return joinWithAnd(what.filter(Boolean));
}

/** How many strips are named before they are counted. */
const MAX_NAMED = 3;

function silentWords(items: readonly CautionItem[], reading: CautionReading): CautionWords {
  const names = items.map(({ strip }) => displayName(reading.profile, reading.after, strip));
  const said = items.map((item) => describeCautionItem(item, reading));
  const isSilent = ({ fact }: CautionItem) => fact.is === 'silent';
  if (items.length === 1) return { title: `${names[0]} ${items.every(isSilent) ? '' : 'is '}${said[0]}`, detail: '' };
  if (items.every(isSilent)) {
    const who = items.length <= MAX_NAMED ? joinWithAnd(names) : `${names[0]}${andMore(items)}`;
    return { title: `${who} go silent`, detail: '' };
  }
  const detail = said.slice(0, MAX_NAMED + 1).map((words, i) => `${names[i]} ${words}`);
  return { title: `${plural(items.length, 'strip')} go silent or leave a mix`, detail: detail.join(', ') };
}
