import type { FetchArgs } from '@reduxjs/toolkit/query/react';

import type { BodyOf, ParamsOf, QueryOf, Route } from '@old-echo/core/contracts/route';

/** What a request takes along, as its route describes it. What is left out has the default that its shape gives it. */
interface Given<R extends Route> {
  readonly params?: ParamsOf<R>;
  readonly query?: { readonly [Name in keyof QueryOf<R>]?: QueryOf<R>[Name] | undefined };
  readonly body?: R['shapes'] extends { readonly takes: string } ? string | Blob : Unchanged<Partial<BodyOf<R>>>;
  readonly headers?: Readonly<Record<string, string>>;
}

/** What is sent is never written into. */
type Unchanged<T> = T extends readonly (infer One)[]
  ? readonly Unchanged<One>[]
  : T extends object
    ? { readonly [Name in keyof T]: Unchanged<T[Name]> }
    : T;

function pathOf({ path }: Route, params: object = {}): string {
  const values = new Map<string, string>(Object.entries(params));
  return path.replaceAll(/:(\w+)/g, (_, name: string) => encodeURIComponent(values.get(name) ?? ''));
}

/** Where a browser finds what a route gives, for what it opens, saves or sends by itself. */
export function addressOf<R extends Route>(
  route: R,
  { params, query = {} }: Omit<Given<R>, 'body' | 'headers'> = {},
): string {
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) =>
      value === undefined ? [] : [value].flat().map((one): [string, string] => [name, String(one)]),
    ),
  ).toString();
  return `/api${pathOf(route, params)}${asked && `?${asked}`}`;
}

/** A request to the server by its route. */
export function ask<R extends Route>(route: R, { params, query, body, headers }: Given<R> = {}): FetchArgs {
  return {
    url: pathOf(route, params),
    method: route.method.toUpperCase(),
    ...(query ? { params: { ...query } } : {}),
    ...(body === undefined ? {} : { body }),
    ...(headers ? { headers: { ...headers } } : {}),
  };
}
