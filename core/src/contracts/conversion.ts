import { array, boolean, type InferType, lazy, mixed, object, string } from 'yup';

import { idShape, MAX_NAME_LENGTH } from '../fault/text-shapes';
import type { Match } from '../library/match-strips';
import type { ReportLine } from '../phrases/conversion-report';
import type { JobView } from './job';

type Hands = Readonly<Record<string, string | null>>;

const isHands = (value: unknown): value is Hands =>
  typeof value === 'object' &&
  value !== null &&
  Object.entries(value).every(([strip, to]) => strip.length <= 12 && (to === null || typeof to === 'string'));

/** What is carried over to which desk: one scene, a version, or a whole production. */
export const conversionShape = object({
  productionId: idShape.required(),
  versionId: idShape.nullable().default(null),
  sceneId: idShape.nullable().default(null),
  /** The desk it goes to. */
  deskId: idShape.required(),
  /** Matches that someone decided, by strip of the first desk; null for what is to stay behind. */
  hands: lazy((value: unknown) =>
    mixed<Hands>()
      .default({})
      .test('hands', 'hands must hold strips by strip', () => value === undefined || isHands(value)),
  ),
  /** Whether what feeds the inputs, and outputs, come along. */
  withPatch: boolean().default(false),
  /** Sections that stay behind. */
  without: array(string().required().max(20)).max(40).default([]),
})
  .noUnknown()
  .required();

export const startConversionShape = conversionShape
  .shape({
    /** The production it goes into; without one, a new one is made under this name. */
    intoId: idShape.nullable().default(null),
    name: string().trim().max(MAX_NAME_LENGTH, `a name can have up to ${MAX_NAME_LENGTH} characters`).default(''),
  })
  .noUnknown()
  .required();

export type ConversionRequest = InferType<typeof conversionShape>;
export type StartConversion = InferType<typeof startConversionShape>;

/** A match with what its strips are called. */
export interface NamedMatch extends Match {
  readonly fromName: string;
  readonly fromPart: string | null;
  readonly toName: string;
}

export interface ConversionPreview {
  readonly matches: readonly NamedMatch[];
  /** Of the newest scene, which stands for the others. */
  readonly lines: readonly ReportLine[];
  readonly scenes: number;
  readonly settings: number;
}

export interface ConversionView extends JobView {
  readonly id: string;
  readonly title: string;
  /** What was made, once it is done. */
  readonly productionId: string | null;
  readonly sceneId: string | null;
  readonly matches: readonly NamedMatch[];
  readonly lines: readonly ReportLine[];
}
