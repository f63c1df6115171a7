import { existsSync, readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';

import { ROOT } from './project.mjs';

/** How much of what a test says is said again at the end. */
const MOST_LINES = 12;

/** The first lines that say something, without colours and stacks. */
const gist = (message) =>
  stripVTControlCharacters(message)
    .split('\n')
    .filter((line) => line.trim() !== '' && !/^\s*at /.test(line))
    .slice(0, MOST_LINES)
    .map((line) => `      ${line.trimEnd()}`)
    .join('\n');

const told = (file, name, message) => [`  ${file}${name ? ` › ${name}` : ''}`, gist(message)].join('\n');

/** What failed by a report of Jest. */
export const unitFailures = ({ testResults }) =>
  testResults.flatMap(({ name, message, assertionResults }) => {
    const failed = assertionResults.filter(({ status }) => status === 'failed');
    const file = relative(ROOT, name);
    // A file that could not be loaded has no tests.
    if (failed.length === 0) return assertionResults.length === 0 && message ? [told(file, '', message)] : [];
    return failed.map(({ fullName, failureMessages }) => told(file, fullName, failureMessages.join('\n')));
  });

/** Lines of what was on a page when a browser test failed, by what Playwright kept of it: the first of a kind, each with what is in it. */
const onPage = (page, role, most) =>
  (page.match(new RegExp(`^( *)- ${role}\\b.*(?:\\n\\1 .*)*`, 'gm')) ?? []).slice(0, most);

/** Where the page stood when a browser test failed, and what it said itself went wrong. */
const pageOf = (attachments) =>
  attachments
    .filter(({ name, path }) => name === 'error-context' && path && existsSync(path))
    .map(({ path }) => readFileSync(path, 'utf8'))
    .flatMap((page) => [...onPage(page, 'heading', 2), ...onPage(page, 'alert', 3)])
    .map((said) => `The page said: ${said.trim().replaceAll(/\s+/g, ' ')}\n`)
    .join('');

/** What failed by a report of Playwright. */
export const browserFailures = ({ suites }) =>
  suites.flatMap((suite) => [
    ...browserFailures({ suites: suite.suites ?? [] }),
    ...suite.specs
      .filter(({ ok }) => !ok)
      .map(({ file, title, tests }) => {
        const results = tests.flatMap((one) => one.results);
        const errors = results.flatMap((result) => result.errors);
        const page = pageOf(results.flatMap(({ attachments }) => attachments));
        return told(file, title, page + errors.map(({ message }) => message ?? '').join('\n'));
      }),
  ]);

/** Says at the end what failed, wherever in all that was printed it stands. */
export function printFailures(failures) {
  if (failures.length > 0) console.log(`\nWhat failed:\n${failures.join('\n')}`);
}
