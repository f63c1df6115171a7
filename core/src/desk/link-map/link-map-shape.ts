import { array, type InferType, mixed, number, object, string } from 'yup';

import { isRecord } from '../../fault/is-record';
import type { WireValue } from './value-mapping';

/** The whole map of a large desk is smaller than that by far. */
const MAX_RULES = 1000;
const MAX_POINTS = 200;
const MAX_NAMES = 600;
/** A message with more arguments than that is more than a datagram. */
const MAX_ARGUMENT = 255;
const MAX_WIRE_TEXT = 120;

/** An OSC 1.0 address: printable ASCII without what patterns are made of, but for braces, which are ours. */
const OSC_ADDRESS = /^\/[!"$-)+\--.0->@-Z\\^-~/]{1,200}$/;

const isWire = (value: unknown): value is WireValue =>
  typeof value === 'boolean' ||
  (typeof value === 'number' && Number.isFinite(value)) ||
  (typeof value === 'string' && value.length <= MAX_WIRE_TEXT);

export const wiresShape = array(
  mixed<WireValue>().required().test('wire', '${path} must be a number, a short text, true or false', isWire),
).max(16);
export const addressShape = string().matches(OSC_ADDRESS, {
  message: '${path} must be an OSC address',
  excludeEmptyString: false,
});
const ends = array(number().required()).length(2);
const argument = mixed<number | string>().test(
  'argument',
  `\${path} must be a number from 0 to ${MAX_ARGUMENT}, or how it follows from the setting`,
  (at) =>
    at === undefined ||
    (typeof at === 'string' && at.length <= 40) ||
    (Number.isInteger(at) && Number(at) >= 0 && Number(at) <= MAX_ARGUMENT),
);
const every = number().integer().min(100).max(600_000);

/** A way from a setting's values to those of the wire. */
export const valueShape = object({
  linear: ends.optional().default(undefined),
  logarithmic: ends.optional().default(undefined),
  points: array(array(number().required()).length(2).required()).max(MAX_POINTS).optional(),
  steps: number().integer().min(1).max(1_000_000).optional(),
  switch: wiresShape.length(2).optional().default(undefined),
  numbered: number().integer().optional(),
  named: mixed<Readonly<Record<string, WireValue>>>()
    .test(
      'named',
      '${path} must say what each option is on the wire',
      (names) =>
        names === undefined ||
        (isRecord(names) && Object.keys(names).length <= MAX_NAMES && Object.values(names).every(isWire)),
    )
    .optional(),
}).noUnknown();

export type ValueSource = InferType<typeof valueShape>;

export const questionShape = object({
  address: addressShape.required(),
  arguments: wiresShape.optional(),
  answer: addressShape.optional(),
  argument,
}).noUnknown();

const ruleShape = object({
  setting: string().max(120).required(),
  address: addressShape.required(),
  argument,
  type: string()
    .oneOf(['i', 'f', 's', 'T/F'] as const)
    .required(),
  /** A mapping, or the name of one; what each is, is looked at where it is used. */
  value: mixed().optional(),
  /** Nothing where the same address without arguments asks, false where nothing does. */
  ask: mixed().optional(),
}).noUnknown();

export type RuleSource = InferType<typeof ruleShape>;

export const linkMapShape = object({
  transport: string()
    .oneOf(['udp', 'tcp'] as const)
    .default('udp'),
  alive: object({ address: addressShape.required(), arguments: wiresShape.optional(), answer: addressShape.optional() })
    .noUnknown()
    .required(),
  pace: number().min(1).max(1_000_000).required(),
  wait: number().integer().min(1).max(10_000).default(100),
  changes: object({
    by: string()
      .oneOf(['itself', 'subscription', 'asking'] as const)
      .required(),
    address: addressShape.optional(),
    arguments: wiresShape.optional(),
    every: every.when('by', {
      is: 'itself',
      then: (shape) => shape.optional(),
      otherwise: (shape) => shape.required(),
    }),
  })
    .noUnknown()
    .required(),
  values: mixed<Readonly<Record<string, unknown>>>()
    .test('values', '${path} must name mappings', (values) => values === undefined || isRecord(values))
    .optional(),
  settings: array(ruleShape).min(1).max(MAX_RULES).required(),
}).noUnknown();
