import { type BaseQueryFn, createApi, type FetchArgs, fetchBaseQuery, retry } from '@reduxjs/toolkit/query/react';

import { fromProblem } from '@old-echo/core/contracts/problem';
import type { Removal } from '@old-echo/core/contracts/removal';
import { REMOVAL_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import type { FaultCode } from '@old-echo/core/fault/fault';
import { isRecord } from '@old-echo/core/fault/is-record';

import { ask } from './ask';

/** What went wrong, in words for the screen. */
export interface ApiFault {
  readonly code: FaultCode;
  readonly message: string;
  readonly advice: string;
}

const raw = fetchBaseQuery({
  baseUrl: '/api',
  responseHandler: async (response) => JSON.parse(await response.text()) as unknown,
});

/** The change that was sent last, for as long as it is not answered. */
let underway: { readonly what: string; readonly answer: ReturnType<typeof raw> } | undefined;

/**
 * A change that is asked for twice before it was answered, by two taps of one finger, is made once: both get its answer. Only the last one
 * sent: a control that goes to one value, to another and back again is sent three times.
 */
function once(args: string | FetchArgs, ask: () => ReturnType<typeof raw>): ReturnType<typeof raw> {
  if (typeof args === 'string' || isReading(args) || args.body instanceof Blob) return ask();
  const what = JSON.stringify([args.method, args.url, args.params, args.body]);
  if (underway?.what === what) return underway.answer;
  const sent = {
    what,
    answer: Promise.resolve(ask()).finally(() => {
      if (underway === sent) underway = undefined;
    }),
  };
  underway = sent;
  return sent.answer;
}

/** The one place where a problem from the server becomes words on the screen. */
const query: BaseQueryFn<string | FetchArgs, unknown, ApiFault> = async (args, asking, extra) => {
  const answer = await once(args, () => raw(args, asking, extra));
  if (!answer.error) return { data: answer.data };
  const { code, message, advice } = fromProblem('data' in answer.error ? answer.error.data : undefined);
  // Shut out meanwhile: the page is to say so.
  if (code === 'not-let-in') asking.dispatch(api.util.invalidateTags(['here']));
  return { error: { code, message, advice } };
};

/** How often what is only read is asked for again while the server is busy, each time after a longer pause. */
const MOST_AGAIN = 4;

/** What is on the screen would otherwise stay as it was before a change, since nobody asks for it again. A change is never sent again by itself. */
const whileBusy: typeof query = retry(query, {
  retryCondition: (error, args, { attempt }) =>
    isApiFault(error) && error.code === 'try-later' && isReading(args as string | FetchArgs) && attempt <= MOST_AGAIN,
});

const isReading = (args: string | FetchArgs): boolean => typeof args === 'string' || (args.method ?? 'GET') === 'GET';

/** The request that takes back what was just done. */
export type UndoRequest = FetchArgs;

/** How what was removed with one touch is given back. */
export const givenBack = ({ removal }: Removal): UndoRequest =>
  ask(REMOVAL_ROUTES.undoRemoval, { params: { id: removal } });

/** What scenes and productions say about one another changes together. */
export const SCENE_TAGS = ['scenes', 'productions'] as const;
export const post = (url: string, body: object = {}) => ({ url, method: 'POST', body });

/** What answers are about; each is read again when that has changed. */
export const TAGS = [
  'desks',
  'productions',
  'scenes',
  'restores',
  'scopes',
  'stems',
  'blindTests',
  'profiles',
  'combinations',
  'mixNotes',
  'presets',
  'origins',
  'parts',
  'venues',
  'outboard',
  'people',
  'clientLinks',
  'here',
] as const;

/** Everything the server holds. States of scenes change only with their models, so they are kept for as long as the page is open. */
export const api = createApi({
  baseQuery: whileBusy,
  tagTypes: TAGS,
  endpoints: () => ({}),
});

const isApiFault = (error: unknown): error is ApiFault => isRecord(error) && 'advice' in error;

/** What a question ended with where it went wrong, else undefined. */
export const faultIn = (error: unknown): ApiFault | undefined => (error ? toApiFault(error) : undefined);

/** What went wrong and what to do, in one line. */
export function faultLine(error: unknown): string {
  const { message, advice } = toApiFault(error);
  return `${message} ${advice}`;
}

/** The words of what went wrong with a mutation, whatever threw it. */
export const toApiFault = (error: unknown): ApiFault =>
  isApiFault(error)
    ? error
    : {
        code: 'unavailable',
        message: 'Can’t reach the server.',
        advice: 'Check that it is running, and look before you send it again.',
      };
