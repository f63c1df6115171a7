import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join, relative } from 'node:path';

import { Validator } from '@seriousme/openapi-schema-validator';
import { convertSchema } from '@sodaru/yup-to-json-schema';
import { createGenerator } from 'ts-json-schema-generator';

import { compile, programFile } from './compile.mjs';
import { installPackages } from './install.mjs';
import { PlainError, runScript } from './plain-error.mjs';
import { ROOT } from './project.mjs';

const TABLES = join('core', 'src', 'contracts', 'routes');

/** The types that routes answer, as they are written in their tables, as one interface that a schema can be made of. */
function answersInterface() {
  const tables = readdirSync(TABLES).filter((file) => file !== 'all-routes.ts');
  const imports = new Map();
  const lines = [];
  for (const file of tables) {
    const text = readFileSync(join(TABLES, file), 'utf8');
    for (const [, names = '', from = ''] of text.matchAll(/^import (?:type )?\{([^}]*)\} from '(\.[^']*)';/gm))
      for (const name of names.split(',').map((one) => one.replace('type ', '').trim()))
        imports.set(name, `../../${TABLES}/${from}`);
    for (const [, name = ''] of text.matchAll(/^export (?:interface|type) (\w+)/gm))
      imports.set(name, `../../${TABLES}/${basename(file, '.ts')}`);
    for (const [, name, answer] of text.matchAll(
      /^ {2}(\w+): (?:get|post|put|patch|del)\([\s\S]*?\)\.answers<([\s\S]*?)>\(\),$/gm,
    ))
      lines.push(`  ${name}: ${answer};`);
  }
  const used = [...imports].filter(([name]) => lines.some((line) => new RegExp(`\\b${name}\\b`).test(line)));
  return [
    ...used.map(([name, from]) => `import type { ${name} } from '${from}';`),
    `export interface Answers {\n${lines.join('\n')}\n}`,
  ].join('\n');
}

const safeName = (name) => name.replace(/\W+/g, '_').replace(/^_+|_+$/g, '');

/** A schema with its references to where OpenAPI keeps what has a name, and tuples as JSON Schema 2020-12 writes them. */
function relocated(schema) {
  if (Array.isArray(schema)) return schema.map(relocated);
  if (typeof schema !== 'object' || schema === null) return schema;
  return Object.fromEntries(
    Object.entries(schema).map(([key, value]) =>
      key === 'items' && Array.isArray(value)
        ? ['prefixItems', relocated(value)]
        : key === '$ref' && typeof value === 'string'
          ? [key, `#/components/schemas/${safeName(decodeURIComponent(value.replace('#/definitions/', '')))}`]
          : [key, relocated(value)],
    ),
  );
}

/** What each route answers, and what that is made of by name. */
function answerSchemas() {
  const folder = join('.data', 'openapi');
  mkdirSync(folder, { recursive: true });
  const file = join(folder, 'answers.ts');
  writeFileSync(file, answersInterface());
  try {
    const made = createGenerator({
      path: file,
      tsconfig: 'tsconfig.json',
      type: 'Answers',
      skipTypeCheck: true,
      encodeRefs: false,
    }).createSchema('Answers');
    const { Answers, ...named } = made.definitions;
    return {
      answers: relocated(Answers.properties),
      named: Object.fromEntries(Object.entries(named).map(([name, schema]) => [safeName(name), relocated(schema)])),
    };
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const shapeOf = (shape) => convertSchema(shape);

function parametersOf({ path, shapes }) {
  const names = [...path.matchAll(/:(\w+)/g)].map(([, name]) => name);
  const query = shapes.query ? shapeOf(shapes.query) : {};
  const required = Array.isArray(query.required) ? query.required : [];
  return [
    ...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
    ...Object.entries(query.properties ?? {}).map(([name, schema]) => ({
      name,
      in: 'query',
      required: required.includes(name),
      schema,
    })),
  ];
}

function operation(name, wing, route, answer) {
  const { takes, gives, body, status = 200 } = route.shapes;
  const sent = body
    ? { 'application/json': { schema: shapeOf(body) } }
    : takes && { [takes]: { schema: { type: 'string', format: 'binary' } } };
  return {
    operationId: name,
    tags: [wing],
    summary: route.does,
    parameters: parametersOf(route),
    ...(sent ? { requestBody: { required: true, content: sent } } : {}),
    responses: {
      [status]: {
        description: 'It went well.',
        content: { [gives ?? 'application/json']: gives ? {} : { schema: answer } },
      },
      default: {
        description: 'It did not; in words, with what to do (RFC 9457).',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

/** The documentation of the API as OpenAPI 3.1. Source: OpenAPI Specification 3.1.1. */
function openApi({ ROUTES }, { problemShape }) {
  const { answers, named } = answerSchemas();
  const paths = {};
  for (const [wing, routes] of Object.entries(ROUTES))
    for (const [name, route] of Object.entries(routes)) {
      const path = `/api${route.path.replaceAll(/:(\w+)/g, '{$1}')}`;
      paths[path] = { ...paths[path], [route.method]: operation(name, wing, route, answers[name]) };
    }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Old Echo',
      version: '1',
      description: 'Scenes, mixes and recalls of a mixing desk. Ids are ULIDs, moments ISO 8601 in UTC, levels dB.',
    },
    tags: Object.keys(ROUTES).map((name) => ({ name })),
    paths,
    components: { schemas: { ...named, Problem: shapeOf(problemShape) } },
  };
}

const TO = join(ROOT, 'docs', 'api', 'openapi.json');

await runScript(async () => {
  installPackages();
  compile();
  process.chdir(ROOT);
  const of = (program) => import(programFile(`core/src/contracts/${program}`));
  const text = `${JSON.stringify(openApi(await of('routes/all-routes'), await of('problem')), null, 1)}\n`;
  const { valid, errors } = await new Validator().validate(JSON.parse(text));
  if (!valid) throw new Error(`The routes make no valid OpenAPI: ${JSON.stringify(errors)}`);
  const is = relative(ROOT, TO);
  if (!process.argv.includes('--check')) writeFileSync(TO, text);
  else if (readFileSync(TO, 'utf8') !== text)
    throw new PlainError(`${is} is not as the routes are: npm run api writes it anew.`);
  console.log(`${is} is as the routes are.`);
});
