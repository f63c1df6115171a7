import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { type AddressInfo, connect, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { until } from './server-rig';

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });

const answers = (port: number) =>
  new Promise<boolean>((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('data', () => resolve(true)).once('error', () => resolve(false));
    socket.once('close', () => socket.destroy());
  });

/** A MariaDB of a test's own, which it may kill: begun as those of all tests are, but what it has written stays. */
export class OwnMariaDB {
  #child: ChildProcess | undefined;

  private constructor(
    private readonly folder: string,
    private readonly args: readonly string[],
    private readonly port: number,
  ) {}

  /** What a server is begun with that has its data here. */
  get env(): NodeJS.ProcessEnv {
    return {
      OLD_ECHO_DB_PORT: String(this.port),
      OLD_ECHO_DB_PASSWORD: process.env['OLD_ECHO_CRASHING_DB_PASSWORD'],
    };
  }

  static async open(): Promise<OwnMariaDB> {
    const folder = mkdtempSync(join(tmpdir(), 'old-echo-killed-'));
    const [data, init] = [join(folder, 'data'), join(folder, 'init.sql')];
    const asRoot = process.getuid?.() === 0 ? ['--user=root'] : [];
    const made = ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=normal', '--skip-test-db'];
    execFileSync('mariadb-install-db', [...made, ...asRoot], { stdio: 'ignore' });
    // As the other one was begun, in another folder and without what makes it forgetful.
    const [, ...theirs] = readFileSync(`/proc/${process.env['OLD_ECHO_CRASHING_DB_PID']}/cmdline`, 'utf8').split('\0');
    const kept = theirs.filter(
      (arg) => arg && !/^--(datadir|pid-file|port|init-file|innodb-(flush|doublewrite))/.test(arg),
    );
    const theirInit = theirs.find((arg) => arg.startsWith('--init-file='))?.split('=')[1] ?? '';
    writeFileSync(init, readFileSync(theirInit), { mode: 0o600 });
    const port = await freePort();
    const own = new OwnMariaDB(folder, [...kept, `--datadir=${data}`, `--port=${port}`, `--init-file=${init}`], port);
    await own.start();
    return own;
  }

  async start(): Promise<void> {
    this.#child = spawn('/usr/sbin/mariadbd', this.args, { stdio: 'ignore' });
    await until(() => answers(this.port));
  }

  kill(signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
    const child = this.#child;
    return new Promise((resolve) => {
      child?.once('exit', () => resolve());
      child?.kill(signal);
    });
  }

  async close(): Promise<void> {
    await this.kill('SIGTERM');
    rmSync(this.folder, { recursive: true });
  }
}
