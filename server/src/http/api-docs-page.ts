import escapeHtml from 'escape-html';

import { type Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';

/** What the document says of an operation, as far as the page tells it. */
interface Operation {
  readonly parameters: readonly { readonly name: string; readonly in: string }[];
  readonly requestBody?: object;
  readonly responses: Readonly<Record<string, { readonly content: object }>>;
}

interface ApiDocument {
  readonly info: { readonly title: string; readonly description: string };
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, object>> };
}

const shown = (json: unknown) =>
  // What has a name leads to where that is told.
  escapeHtml(JSON.stringify(json, null, 1)).replaceAll(
    /#\/components\/schemas\/(\w+)/g,
    (_, name: string) => `<a href="#${name}">${name}</a>`,
  );

/** The API as a page that needs nothing but itself: every address by wing, then every shape by name. */
export function apiDocsPage({ info, paths, components }: ApiDocument): string {
  const one = ({ method, path, does }: Route): string => {
    const at = `/api${path}`;
    const operation = paths[at.replaceAll(/:(\w+)/g, '{$1}')]?.[method];
    if (!operation) throw new Error(`${at} is not in the document of the API`);
    const { parameters, requestBody, responses } = operation;
    const asked = parameters.flatMap(({ name, in: where }) => (where === 'query' ? [name] : []));
    const query = asked.length > 0 ? ` <i>?${asked.join('&amp;')}</i>` : '';
    const told = [
      ...(requestBody ? [`<h4>Takes</h4><pre>${shown(requestBody)}</pre>`] : []),
      ...Object.entries(responses).map(([status, { content }]) => `<h4>${status}</h4><pre>${shown(content)}</pre>`),
    ];
    return `<details><summary><b>${method.toUpperCase()}</b> <code>${escapeHtml(at)}</code>${query}<br>${escapeHtml(does)}</summary>${told.join('')}</details>`;
  };
  const wings = Object.entries(ROUTES).map(
    ([wing, routes]) => `<h2>${wing}</h2>${(Object.values(routes) as Route[]).map(one).join('')}`,
  );
  const shapes = Object.entries(components.schemas).map(
    ([name, schema]) => `<h3 id="${name}">${name}</h3><pre>${shown(schema)}</pre>`,
  );
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escapeHtml(info.title)}: API</title>
<style>
body{font:15px/1.45 sans-serif;max-width:60em;margin:2em auto;padding:0 1em;color:#ddd;background:#16181b}
a{color:#8ec7d8}summary{padding:.5em 0;cursor:pointer}code,pre{font:13px/1.4 monospace}
pre{overflow:auto;background:#1f2226;padding:.8em}i{color:#9aa0a6}h2{text-transform:capitalize}
</style>
<h1>${escapeHtml(info.title)}: API</h1>
<p>${escapeHtml(info.description)} As <a href="/api/docs/openapi.json">OpenAPI 3.1</a>.</p>
${wings.join('')}<h2>Shapes</h2>${shapes.join('')}</html>`;
}
