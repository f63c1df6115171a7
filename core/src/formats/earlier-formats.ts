import { isList, isRecord } from '../fault/is-record';

/** JSON of a file, of which nothing is known yet but that it is an object. */
type Json = Readonly<Record<string, unknown>>;

const renamed = (json: Json, names: Readonly<Record<string, string>>): Json =>
  Object.fromEntries(Object.entries(json).map(([key, value]) => [names[key] ?? key, value]));

/** A list whose objects are made anew; what is no list, or no object, is left to the check that follows. */
const eachObject = (list: unknown, made: (one: Json) => Json): unknown =>
  isList(list) ? list.map((one) => (isRecord(one) ? made(one) : one)) : list;

const eachRenamed = (list: unknown, names: Readonly<Record<string, string>>): unknown =>
  eachObject(list, (one) => renamed(one, names));

const presetsTo2 = (presets: unknown): unknown =>
  eachObject(presets, (preset) => (preset['kind'] === 'kit' ? { ...preset, kind: 'strip set' } : preset));

/** A library of version 1: what is a strip set now was a kit. */
export const libraryTo2 = (older: Json): Json => ({ ...older, presets: presetsTo2(older['presets']) });

/** The head of an archive of version 1, which had other words for venues, mix notes and scenes at hand. */
export function archiveTo2(older: Json): Json {
  const head = renamed(older, { halls: 'venues', wishes: 'mixNotes', pins: 'atHand' });
  return {
    ...head,
    versions: eachRenamed(head['versions'], { work: 'status', kept: 'autosaves' }),
    venues: eachRenamed(head['venues'], { takenAt: 'capturedAt' }),
    mixNotes: eachRenamed(head['mixNotes'], { at: 'songSeconds', who: 'requestedBy', state: 'status' }),
    outboard: eachRenamed(head['outboard'], { knobs: 'controls' }),
    presets: presetsTo2(head['presets']),
  };
}

/** A line of `scenes.jsonl` of an archive of version 1. */
export const sceneLineTo2 = (older: Json): Json => ({
  ...older,
  outboard: eachRenamed(older['outboard'], { knobs: 'controls' }),
});

/** A line of `strips.jsonl` of an archive of version 1. */
export const stripLineTo2 = (older: Json): Json => renamed(older, { print: 'fingerprint' });
