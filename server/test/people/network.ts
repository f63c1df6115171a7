import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import type { OutgoingHttpHeaders } from 'node:http';
import { request as askPlainly } from 'node:http';
import { request as askByTls } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { EntryCode } from '@old-echo/core/contracts/device';
import type { Role } from '@old-echo/core/contracts/role';

import type { Rig } from '../server-rig';

interface Certificate {
  readonly certificate: string;
  readonly key: string;
  readonly authority: string;
}

/** A certificate as `npm start -- --network` makes it. */
export function makeCertificate(): Certificate {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-certificate-'));
  const program = `import { certificateIn } from './scripts/certificate.mjs';
    console.log(JSON.stringify(await certificateIn(process.argv[1])));`;
  const cwd = join(__dirname, '..', '..', '..');
  const said = execFileSync(process.execPath, ['--input-type=module', '-e', program, folder], { cwd });
  return JSON.parse(said.toString()) as Certificate;
}

/** What a server needs that others on the network reach. */
export const networkSettings = ({ certificate, key, authority }: Certificate) => ({
  OLD_ECHO_CERTIFICATE: certificate,
  OLD_ECHO_KEY: key,
  OLD_ECHO_AUTHORITY: authority,
  OLD_ECHO_NETWORK_PORT: '0',
});

interface NetworkAnswer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly body: Record<string, unknown>;
}

let people = 0;

/** A phone on the network: it knows this machine's authority, and keeps its cookie as a browser does. */
export class Phone {
  cookie = '';

  constructor(
    private readonly rig: Rig,
    private readonly authority: string,
    private readonly isPlain = false,
  ) {}

  get origin(): string {
    return `${this.isPlain ? 'http' : 'https'}://127.0.0.1:${this.rig.running.networkPort}`;
  }

  get trusts(): Buffer {
    return readFileSync(this.authority);
  }

  /** @param headers in the place of those a page of ours sends */
  ask(method: string, path: string, body?: unknown, headers: OutgoingHttpHeaders = {}): Promise<NetworkAnswer> {
    const sent = body === undefined ? '' : JSON.stringify(body);
    return new Promise((resolve, reject) => {
      const asked = (this.isPlain ? askPlainly : askByTls)(
        `${this.origin}/api${path}`,
        {
          method,
          ca: this.trusts,
          // It goes by the address, whatever name it is made to ask for.
          checkServerIdentity: () => undefined,
          headers: {
            'content-type': 'application/json',
            'content-length': Buffer.byteLength(sent),
            ...(this.cookie ? { cookie: this.cookie } : {}),
            ...headers,
          },
        },
        (answer) => {
          let text = '';
          answer.on('data', (bytes: Buffer) => (text += bytes.toString()));
          answer.on('end', () => {
            const isJson = /json/.test(answer.headers['content-type'] ?? '');
            const found = isJson ? (JSON.parse(text) as Record<string, unknown>) : { text };
            resolve({ status: answer.statusCode ?? 0, headers: answer.headers, body: found });
          });
        },
      );
      // The error itself holds the whole certificate.
      asked.on('error', ({ message }) => reject(new Error(message))).end(sent);
    });
  }

  /** Asks to be let in by a code. */
  async enter(code: string, name = 'Phone'): Promise<NetworkAnswer> {
    return this.kept(await this.ask('POST', '/devices', { code, name }));
  }

  /** Asks to be let in by a password. */
  async signIn(name: string, password: string, device = 'Another'): Promise<NetworkAnswer> {
    return this.kept(await this.ask('POST', '/sign-in', { name, password, device }));
  }

  private kept(answer: NetworkAnswer): NetworkAnswer {
    const [cookie = ''] = answer.headers['set-cookie'] ?? [];
    if (answer.status === 201) this.cookie = cookie.split(';')[0] ?? '';
    return answer;
  }

  /** Is let in by whoever sits at the machine, for somebody new. */
  async letIn(name = 'Phone', role: Role = 'engineer', person = `Somebody ${++people}`): Promise<NetworkAnswer> {
    const { body } = await this.rig.post<EntryCode>('/entry-codes', { name: person, role });
    return this.enter(body.code, name);
  }
}
