import { spawn } from 'node:child_process';
import { createWriteStream } from 'node:fs';

import { programFile } from './compile.mjs';
import { PlainError } from './plain-error.mjs';
import { ROOT } from './project.mjs';

/** How long a process may take to end by itself, in ms. */
const PATIENCE = 10_000;

/** The processes that a script starts, ended in reverse order; nothing else is ever ended. */
export class Children {
  #running = [];
  #stopping = false;
  /** Called with a sentence when one ends that nobody asked to. */
  onLoss = () => undefined;

  /** Starts a program in a process group of its own, so that Ctrl-C reaches only the script. `log`: a file for all that it says. */
  start(name, command, args, { env = {}, ipc = false, log = undefined } = {}) {
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ipc ? ['ignore', 'pipe', 'pipe', 'ipc'] : ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    let said = '';
    const file = log && createWriteStream(log, { flags: 'a', mode: 0o600 });
    const hear = (chunk) => {
      said = (said + chunk).slice(-4000);
      file?.write(chunk);
      if (process.env.OLD_ECHO_LOG_LEVEL) process.stderr.write(chunk);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    const ended = new Promise((resolve) => {
      child.once('exit', (code, signal) => resolve(signal ? `was ended by ${signal}` : `ended with ${code}`));
      child.once('error', (error) => resolve(hear(error.message)));
    });
    const entry = { name, child, ended, said: () => said.trim() };
    this.#running.push(entry);
    void ended.then((how) => {
      this.#running = this.#running.filter((other) => other !== entry);
      if (!this.#stopping)
        this.onLoss(
          [`${name} ${how ?? 'could not run'}.`, lastWords(said), log && `Its log is ${log}.`]
            .filter(Boolean)
            .join(' '),
        );
    });
    return entry;
  }

  /** Starts one of our programs and waits until it says that it is ready; returns what it said. */
  async startOurs(name, program, args, env = {}, log = undefined) {
    const entry = this.start(name, process.execPath, [programFile(program), ...args], { env, ipc: true, log });
    const ready = new Promise((resolve) => entry.child.once('message', resolve));
    const lost = entry.ended.then(() => {
      throw new PlainError(`${name} could not start. ${entry.said()}`);
    });
    lost.catch(() => undefined);
    return { entry, message: await Promise.race([ready, lost]) };
  }

  /** Ends one process and waits for it. */
  async end(entry) {
    const timer = setTimeout(() => entry.child.kill('SIGKILL'), PATIENCE);
    entry.child.kill('SIGTERM');
    await entry.ended;
    clearTimeout(timer);
  }

  async endAll() {
    this.#stopping = true;
    for (const entry of [...this.#running].reverse()) await this.end(entry);
  }
}

/** The last line of what a program said, where it is one for people. */
function lastWords(said) {
  const line = said.trim().split('\n').at(-1) ?? '';
  return line === '' || line.startsWith('{') ? '' : `It said last: ${line}`;
}
