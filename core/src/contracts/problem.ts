import { type InferType, object, string } from 'yup';

import { Fault, type FaultCode } from '../fault/fault';

/** Problem details (RFC 9457) as the server writes them: `type` is `urn:old-echo:` and the code of the fault. */
export const problemShape = object({
  type: string().required(),
  title: string().required(),
  /** What to do next. */
  detail: string().required(),
  /** The path of what is wrong, where there is one. */
  where: string().optional(),
});

export type Problem = InferType<typeof problemShape>;

const PREFIX = 'urn:old-echo:';

export const toProblem = (fault: Fault, status: number): Problem & { status: number } => ({
  type: `${PREFIX}${fault.code}`,
  title: fault.message,
  status,
  detail: fault.advice,
  ...(fault.where === undefined ? {} : { where: fault.where }),
});

/** A problem from the server as a fault, or one in general words where it is not ours. */
export function fromProblem(body: unknown): Fault {
  if (!problemShape.isValidSync(body))
    return new Fault(
      'unavailable',
      'Can’t reach the server.',
      'Check that it is running, and look before you send it again.',
    );
  const problem = problemShape.cast(body);
  return new Fault(problem.type.slice(PREFIX.length) as FaultCode, problem.title, problem.detail, problem.where);
}
