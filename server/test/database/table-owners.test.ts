import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

import ts from 'typescript';

const SOURCES = join(__dirname, '..', '..', 'src');
const CONNECTIONS = new Set(['db', 'tx']);
const WRITES = new Set(['insert', 'update', 'delete', 'del', 'increment', 'decrement', 'truncate']);

/** The table that a chain of calls on a connection begins with: `tx('scenes').where(…)`. */
function tableOf(node: ts.Expression): string | undefined {
  if (ts.isPropertyAccessExpression(node)) return tableOf(node.expression);
  if (!ts.isCallExpression(node)) return undefined;
  const [first] = node.arguments;
  if (ts.isIdentifier(node.expression))
    return CONNECTIONS.has(node.expression.text) && first && ts.isStringLiteral(first) ? first.text : undefined;
  return tableOf(node.expression);
}

/** The tables that a file writes. */
function writtenIn(file: string): string[] {
  const written: string[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression)) {
      const table = tableOf(node.expression.expression);
      if (table !== undefined && WRITES.has(node.expression.name.text)) written.push(table);
    }
    ts.forEachChild(node, look);
  };
  look(ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest));
  return written;
}

const wings = new Map<string, Set<string>>();
for (const path of readdirSync(SOURCES, { recursive: true, encoding: 'utf8' })) {
  if (!path.endsWith('.ts') || path.startsWith(join('database', 'migrations'))) continue;
  for (const table of writtenIn(join(SOURCES, path)))
    wings.set(table, (wings.get(table) ?? new Set()).add(path.split('/')[0] ?? ''));
}

test('the tables are found', () => {
  expect([...wings.keys()]).toEqual(expect.arrayContaining(['scenes', 'desks', 'presets', 'restores', 'jobs']));
});

test.each([...wings])('%s is written by one wing alone, whose rules hold wherever rows come from', (_, writers) => {
  expect([...writers]).toHaveLength(1);
});
