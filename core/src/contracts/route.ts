import type { InferType, Schema } from 'yup';

import type { Access } from './role';

type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** The names that a path holds: `id` and `strip` in `/desks/:id/strips/:strip`. */
type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? // What stands behind a dot is no part of a name.
      Name extends `${infer Bare}.${string}`
      ? Bare
      : Name
    : never;

interface Shapes {
  /** What may stand behind the question mark. */
  readonly query?: Schema;
  /** What is sent, as JSON. */
  readonly body?: Schema;
  /** The media type of what is sent where it is no JSON. */
  readonly takes?: string;
  /** The media type of the answer where it is no JSON. */
  readonly gives?: string;
  /** How it answers when all went well; 200 where nothing is said. */
  readonly status?: 200 | 201 | 202;
  /** What asking takes; a viewer where nothing is changed and an engineer elsewhere, where nothing is said. */
  readonly by?: Access;
  /** Whether it changes nothing that others see, although it is no `get`. */
  readonly looks?: boolean;
}

type NoShapes = { readonly [Shape in keyof Shapes]?: undefined };

/** An address of the server: what it takes, and what it answers. Screens ask by it, the server serves it, the documentation tells it. */
export interface Route<Path extends string = string, S extends Shapes = Shapes, Answer = unknown> {
  readonly method: Method;
  readonly path: Path;
  /** What it does, in one sentence. */
  readonly does: string;
  readonly shapes: S;
  /** Nothing is here: it tells the type of the answer. */
  readonly answer?: Answer;
}

export type ParamsOf<R extends Route> = Readonly<Record<NamesIn<R['path']>, string>>;
type InferredBy<S> = S extends Schema ? InferType<S> : undefined;
export type QueryOf<R extends Route> = InferredBy<R['shapes']['query']>;
export type BodyOf<R extends Route> = InferredBy<R['shapes']['body']>;
export type AnswerOf<R extends Route> = Exclude<R['answer'], undefined>;

const at =
  (method: Method) =>
  <const Path extends string, S extends Shapes = NoShapes>(path: Path, does: string, shapes?: S) => ({
    /** Says the type of what it answers; {@link Nothing} where that is all that there is to say, or a file. */
    answers: <Answer>(): Route<Path, S, Answer> => ({
      method,
      path,
      does,
      // Without shapes it is what its type is by default.
      shapes: shapes ?? ({} as S),
    }),
  });

/** An answer that only says that it was done. */
export type Nothing = Record<string, never>;

export const [get, post, put, patch, del] = [at('get'), at('post'), at('put'), at('patch'), at('delete')];

type Asked = Pick<Route, 'method' | 'shapes'>;

/** Whether a route changes what others see. */
export const isChange = ({ method, shapes }: Asked): boolean => method !== 'get' && shapes.looks !== true;

/** What asking for a route takes. */
export const accessOf = (route: Asked): Access => route.shapes.by ?? (isChange(route) ? 'engineer' : 'viewer');
