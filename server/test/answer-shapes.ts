import Ajv2020, { type ValidateFunction } from 'ajv/dist/2020';

import document from '../../docs/api/openapi.json';

interface Content {
  readonly schema?: object;
}
type Operations = Readonly<Record<string, { responses: Record<string, { content: Record<string, Content> }> }>>;

const ajv = new Ajv2020({ strict: false, formats: { uuid: true, date: true } });
ajv.addSchema(document, 'api');

/** What the API's document says of each address. */
const OPERATIONS = Object.entries(document.paths as Record<string, Operations>).map(([path, operations]) => ({
  path: new RegExp(`^${path.replaceAll('.', '\\.').replaceAll(/\{\w+\}/g, '[^/]+')}$`),
  fixed: !path.includes('{'),
  name: path,
  operations,
}));

const known = new Map<string, ValidateFunction>();

/**
 * Looks whether an answer is what the API's document says of its address.
 * @throws Error naming the address and what is wrong, also for an address or a status that the document does not have
 */
export function assertAsDocumented(method: string, path: string, status: number, body: unknown): void {
  if (status >= 300) return;
  const bare = `/api${path.split('?')[0]}`;
  const found = OPERATIONS.filter((one) => one.path.test(bare)).sort((a, b) => Number(b.fixed) - Number(a.fixed));
  const operation = found.map((one) => one.operations[method.toLowerCase()]).find((one) => one !== undefined);
  if (!operation) throw new Error(`${method} ${bare} is not documented`);
  const answer = operation.responses[status];
  if (!answer) throw new Error(`${method} ${bare} answers ${status}, which is not documented`);
  const schema = answer.content['application/json']?.schema;
  if (!schema) return;
  const key = JSON.stringify(schema);
  const validate = known.get(key) ?? ajv.compile(JSON.parse(key.replaceAll('"#/', '"api#/')) as object);
  known.set(key, validate);
  if (!validate(body)) throw new Error(`${method} ${bare}: ${ajv.errorsText(validate.errors)}`);
}
