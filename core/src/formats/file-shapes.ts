import { array, boolean, type InferType, lazy, mixed, number, object, string } from 'yup';

import { modeShape } from '../contracts/desk';
import { MIX_NOTE_STATUSES } from '../contracts/mix-note';
import { outboardShape } from '../contracts/outboard';
import { contentShape } from '../contracts/preset';
import { PRODUCTION_KINDS, VERSION_STATUSES } from '../contracts/production';
import { SCENE_KINDS } from '../contracts/scene';
import type { StripState } from '../desk/state';
import { isRecord } from '../fault/is-record';
import { parseShape } from '../fault/parse-shape';
import { idShape } from '../fault/text-shapes';
import { PRESET_KINDS } from '../library/preset';
import { safesShape, scopeShape } from '../recall/scope-rules';
import { STORED_DEPTHS } from '../signal/wav-header';
import { archiveTo2, libraryTo2, sceneLineTo2, stripLineTo2 } from './earlier-formats';
import { upgradeFormat } from './upgrade-format';

/** Formats are described in docs/formats, with a JSON Schema for each. */
export const LIBRARY = 'old-echo/library';
export const SCENE = 'old-echo/scene';
export const ARCHIVE = 'old-echo/archive';

/** Entries of an archive. */
export const ENTRIES = { head: 'archive.json', scenes: 'scenes.jsonl', strips: 'strips.jsonl' } as const;
export const soundEntry = (hash: string): string => `sound/${hash}.wav`;
export const photoEntry = (hash: string): string => `photos/${hash}`;

const hash = string().matches(/^[0-9a-f]{64}$/, '${path} must be a fingerprint');
const moment = string()
  .required()
  .test('moment', '${path} must be a moment', (text) => !Number.isNaN(Date.parse(text)));
const profile = lazy(() => mixed<object>().required().test('profile', '${path} must be a profile', isRecord));
/** An object whose values are all of one type, under any names. */
const recordOf = <T>(holds: string, isHeld: (value: unknown) => value is T) =>
  lazy(() =>
    mixed<Readonly<Record<string, T>>>()
      .required()
      .test('record', '${path} must be an object', isRecord)
      .test('values', `\${path} must hold ${holds}`, (value) => !isRecord(value) || Object.values(value).every(isHeld)),
  );
const isText = (value: unknown): value is string => typeof value === 'string';
const anything = (_: unknown): _ is unknown => true;

const presetShape = object({
  kind: string().oneOf(PRESET_KINDS).required(),
  name: string().trim().required().max(60),
  folder: string().max(60).default(''),
  tags: array(string().required().max(30)).max(12).default([]),
  note: string().max(2000).default(''),
  profileId: string().required().max(40),
  madeOn: string().max(100).default(''),
  by: string().max(40).default(''),
  content: contentShape,
}).noUnknown();

const libraryShape = object({
  format: string().required(),
  version: number().required(),
  /** The desk models its presets were made on. */
  profiles: array(profile).required().max(50),
  presets: array(presetShape).required().max(5000),
}).noUnknown();

const sceneFileShape = object({
  format: string().required(),
  version: number().required(),
  profile,
  scene: object({
    name: string().trim().required().max(60),
    note: string().max(2000).default(''),
    milestone: string().max(60).default(''),
    tags: array(string().required().max(30)).max(12).default([]),
    scope: scopeShape.nullable().default(null),
    madeAt: moment,
    state: contentShape,
  }).noUnknown(),
}).noUnknown();

export const archiveShape = object({
  format: string().required(),
  version: number().required(),
  madeAt: moment,
  profile,
  desk: object({ name: string().required().max(100), mode: modeShape.required(), safes: safesShape }).noUnknown(),
  production: object({
    id: idShape.required(),
    name: string().required().max(60),
    kind: string().oneOf(PRODUCTION_KINDS).required(),
    note: string().max(2000).default(''),
  }).noUnknown(),
  versions: array(
    object({
      id: idShape.required(),
      name: string().required().max(60),
      note: string().max(2000).default(''),
      status: string().oneOf(VERSION_STATUSES).required(),
      fromSceneId: idShape.nullable().default(null),
      followsId: idShape.nullable().default(null),
      /** Its scenes in the archive, and those among them that were autosaved. */
      scenes: array(idShape.required()).required().max(200_000),
      autosaves: number().integer().min(0).required(),
    }).noUnknown(),
  )
    .required()
    .max(500),
  parts: recordOf('texts', isText),
  venues: array(
    object({
      name: string().required().max(60),
      note: string().max(2000).default(''),
      settings: recordOf('objects', isRecord),
      capturedAt: string().nullable().default(null),
    }).noUnknown(),
  )
    .max(500)
    .default([]),
  outboard: array(outboardShape.shape({ photo: hash.nullable().default(null) }).noUnknown())
    .max(500)
    .default([]),
  mixNotes: array(
    object({
      versionId: idShape.required(),
      text: string().required().max(500),
      songSeconds: number().nullable().default(null),
      strip: string().max(12).nullable().default(null),
      requestedBy: string().max(40).default(''),
      status: string().oneOf(MIX_NOTE_STATUSES).required(),
      sceneId: idShape.nullable().default(null),
    }).noUnknown(),
  )
    .max(10_000)
    .default([]),
  scopes: array(object({ name: string().required().max(60), scope: scopeShape }).noUnknown())
    .max(500)
    .default([]),
  /** The desk models that its presets were made on. */
  profiles: array(profile).max(50).default([]),
  /** Of strips of its desk that came from one. */
  presets: array(presetShape).max(5000).default([]),
  atHand: array(idShape.required()).max(12).default([]),
  stems: array(
    object({
      strip: string().required().max(12),
      name: string().max(200).default(''),
      hash: hash.required(),
      rate: number().integer().min(1).required(),
      channels: number().integer().min(1).max(64).required(),
      depth: string().oneOf(STORED_DEPTHS).required(),
      frames: number().integer().min(0).required(),
      gain: number().required(),
      silent: boolean().required(),
      peak: number().nullable().default(null),
      timeReference: number().integer().min(0).nullable().default(null),
    }).noUnknown(),
  )
    .max(512)
    .default([]),
  /** Whether the sound itself is in it. */
  sound: boolean().required(),
}).noUnknown();

/** One line of `scenes.jsonl`: scenes in the order in which they stand. What was autosaved has the number 0. */
const sceneLineShape = object({
  id: idShape.required(),
  versionId: idShape.required(),
  number: number().integer().min(0).required(),
  name: string().required().max(60),
  note: string().max(2000).default(''),
  milestone: string().max(60).default(''),
  tags: array(string().required().max(30)).max(12).default([]),
  protected: boolean().required(),
  kind: string().oneOf(SCENE_KINDS).required(),
  parents: array(idShape.required()).max(100).required(),
  scope: scopeShape.nullable().default(null),
  madeAt: moment,
  /** What it moved from its first parent. */
  moved: object({
    settings: number().integer().min(0).required(),
    strips: array(string().required().max(12)).max(512).required(),
  }).noUnknown(),
  outboard: array(outboardShape.shape({ photo: hash.nullable().default(null) }).noUnknown())
    .max(500)
    .default([]),
  /** Whether it holds only a part of its desk. */
  partial: boolean().default(false),
  /** Fingerprints of the strips that are not as in the line before; of a part, of all strips that it has. */
  strips: recordOf('texts', isText),
}).noUnknown();

/** One line of `strips.jsonl`: a state that scenes are made of, and its fingerprint. */
const stripLineShape = object({ fingerprint: hash.required(), settings: recordOf('values', anything) }).noUnknown();

export type LibraryFile = InferType<typeof libraryShape>;
export type SceneFile = InferType<typeof sceneFileShape>;
export type ArchiveHead = InferType<typeof archiveShape>;
export type SceneLine = Omit<InferType<typeof sceneLineShape>, 'strips'> & {
  readonly strips: Readonly<Record<string, string>>;
};
export interface StripLine {
  readonly fingerprint: string;
  readonly settings: StripState;
}

/** @throws Fault `refused-input` with the path of the first thing that is wrong */
export const readLibraryFile = (json: unknown): LibraryFile =>
  parseShape(libraryShape, upgradeFormat(json, LIBRARY, [libraryTo2]));
export const readSceneFile = (json: unknown): SceneFile => parseShape(sceneFileShape, upgradeFormat(json, SCENE, []));
export const readArchiveHead = (json: unknown): ArchiveHead =>
  parseShape(archiveShape, upgradeFormat(json, ARCHIVE, [archiveTo2]));

/** Lines do not say their version; those of version 1 are told by their names. */
export const readSceneLine = (json: unknown): SceneLine =>
  parseShape(sceneLineShape, isRecord(json) ? sceneLineTo2(json) : json);
export const readStripLine = (json: unknown): StripLine =>
  parseShape(stripLineShape, isRecord(json) ? stripLineTo2(json) : json) as StripLine;
