import { array, type InferType, number, object, string } from 'yup';

import { addressShape, wiresShape } from '../desk/link-map/link-map-shape';
import { hostShape, portShape } from './link-trial';

/** A desk that nobody knows the language of: where it is, and what keeps it talking. */
export const listeningShape = object({
  host: hostShape.required('an address is missing'),
  port: portShape.required('a port is missing'),
  transport: string()
    .oneOf(['udp', 'tcp'] as const)
    .default('udp'),
  /** Sent at once, and again every so many ms: what makes it tell what moves. */
  say: array(object({ address: addressShape.required(), arguments: wiresShape.default([]) }).noUnknown())
    .max(4, 'at most four messages are said again and again')
    .default([]),
  every: number().integer().min(200).max(60_000).default(2000),
})
  .noUnknown()
  .required();

export type NewListening = InferType<typeof listeningShape>;

/** A question to the desk, and the address of its answer where that is another. */
export const askedShape = object({
  address: addressShape.required('an OSC address is missing'),
  arguments: wiresShape.default([]),
  answer: addressShape.optional(),
})
  .noUnknown()
  .required();

export type AskedDesk = InferType<typeof askedShape>;

export interface ListeningView {
  readonly id: string;
}
