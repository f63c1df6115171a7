import { spawn } from 'node:child_process';
import { appendFileSync } from 'node:fs';

import { programFile } from './compile.mjs';
import { PlainError } from './plain-error.mjs';
import { ROOT } from './project.mjs';

/** How long a process may take to end by itself, in ms. */
const PATIENCE = 10_000;

/** Pauses before a part that ended is started again: twice as long each time, in ms, until one has run for `STEADY_MS`. */
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 30_000;
const STEADY_MS = 60_000;

const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
const seconds = (ms) => `${(ms / 1000).toFixed(1)} s`;

/** The processes that a script starts, ended in reverse order; nothing else is ever ended. */
export class Children {
  #running = [];
  #stopping = false;
  /** What ended although it is kept running, in order: its name, and how it ended. */
  lost = [];

  /** Starts a program in a process group of its own, so that Ctrl-C reaches only the script. `log`: a file for all that it says. */
  start(name, command, args, { env = {}, ipc = false, log = undefined } = {}) {
    if (this.#stopping) throw new PlainError(`${name} is not started: all of it is being ended.`);
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ipc ? ['ignore', 'pipe', 'pipe', 'ipc'] : ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    let said = '';
    const hear = (chunk) => {
      said = (said + chunk).slice(-4000);
      if (log) append(log, chunk);
      if (process.env.OLD_ECHO_LOG_LEVEL) process.stderr.write(chunk);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    const ended = new Promise((resolve) => {
      child.once('exit', (code, signal) => resolve(signal ? `was ended by ${signal}` : `ended with ${code}`));
      child.once('error', (error) => resolve(hear(error.message)));
    });
    const lastSaid = () => [lastWords(said), log && `Its log is ${log}.`].filter(Boolean).join(' ');
    const entry = { name, child, ended, said: () => said.trim(), lastSaid };
    this.#running.push(entry);
    void ended.then(() => (this.#running = this.#running.filter((other) => other !== entry)));
    return entry;
  }

  /**
   * Keeps a part running: whenever it ends, it is started again. `begin` starts it and returns what it is with its `entry`, once it
   * works. How it ended and how long it was gone is printed.
   */
  async keep(begin) {
    const first = await begin();
    void this.#keepGoing(begin, first.entry);
    return first;
  }

  async #keepGoing(begin, first) {
    let [entry, pause] = [first, FIRST_PAUSE_MS];
    for (;;) {
      const begun = performance.now();
      const how = await entry.ended;
      const ended = performance.now();
      if (this.#stopping) return;
      if (ended - begun > STEADY_MS) pause = FIRST_PAUSE_MS;
      this.lost.push({ name: entry.name, how });
      let why = [`${entry.name} ${how ?? 'could not run'}.`, entry.lastSaid()].filter(Boolean).join(' ');
      for (let again; !again; pause = Math.min(pause * 2, LONGEST_PAUSE_MS)) {
        console.error(`\n${why}\nIt is started again in ${seconds(pause)}.`);
        await wait(pause);
        if (this.#stopping) return;
        again = await begin().catch((error) => void (why = error.message));
        if (again) entry = again.entry;
        if (this.#stopping) return;
      }
      console.error(`${entry.name} works again, ${seconds(performance.now() - ended)} after it ended.`);
    }
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

/** What a log has no room for, as on a full disk, is left out: whoever it tells of goes on. */
function append(log, chunk) {
  try {
    appendFileSync(log, chunk, { mode: 0o600 });
  } catch {
    // What was said last is held besides.
  }
}

/** The last line of what a program said, where it is one for people. */
function lastWords(said) {
  const line = said.trim().split('\n').at(-1) ?? '';
  return line === '' || line.startsWith('{') ? '' : `It said last: ${line}`;
}
