import { createHash } from 'node:crypto';

/** One mutant in how many is looked at. */
const oneIn = () => Number(process.env.OLD_ECHO_MUTANTS_ONE_IN ?? 1);

/** Whether a mutant is one of those that are looked at: by what and where it is, so that the choice is the same in every run. */
export function isChosen({ location: { start, end }, mutatorName, replacement }) {
  const what = [start.line, start.column, end.line, end.column, mutatorName, replacement].join(' ');
  return createHash('sha256').update(what).digest().readUInt32BE() % oneIn() === 0;
}

/** Lets through the mutants that are looked at; the others count as if they did not compile. */
class SampleChecker {
  async init() {}
  async check(mutants) {
    const answer = (mutant) =>
      isChosen(mutant) ? { status: 'passed' } : { status: 'compileError', reason: 'Not one of those looked at.' };
    return Object.fromEntries(mutants.map((mutant) => [mutant.id, answer(mutant)]));
  }
}

export const strykerPlugins = [{ kind: 'Checker', name: 'sample', injectableClass: SampleChecker }];
