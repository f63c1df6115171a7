/** Something a person can put right: printed as a plain sentence, without a stack. */
export class PlainError extends Error {}

/** Runs a script's main function; ends the process with 1 when it fails. */
export async function runScript(main) {
  try {
    await main();
  } catch (error) {
    console.error(error instanceof PlainError ? `\n${error.message}` : error);
    process.exitCode = 1;
  }
}
