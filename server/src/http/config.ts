import { boolean, number, object, string } from 'yup';

import { parseShape } from '@old-echo/core/fault/parse-shape';

const shape = object({
  host: string().default('127.0.0.1'),
  port: number().integer().min(0).max(65535).default(4650),
  /** The port for other machines on the network, by TLS with the certificate below. */
  networkPort: number().integer().min(0).max(65535).default(4651),
  /** Whether others on the network get in without TLS: whoever listens there can do what they do. */
  plain: boolean().default(false),
  /** The files of a certificate and its key; where there are none, nobody on the network gets in by TLS. */
  certificate: string().default(''),
  key: string().default(''),
  /** The file of the authority that has signed it, where phones are to be given that. */
  authority: string().default(''),
  databasePort: number().required('OLD_ECHO_DB_PORT must name the port of MariaDB'),
  databasePassword: string().required('OLD_ECHO_DB_PASSWORD must hold the password of MariaDB'),
  database: string()
    .matches(/^[a-z0-9_]+$/)
    .default('old_echo'),
  /** The folder of the web build, or empty to serve the API alone. */
  web: string().default(''),
  /** How long a desk that has drifted must rest before what is on it is kept, in seconds. */
  rest: number().min(0.1).max(86_400).default(60),
  /** How long a restore may hold a desk without a sign of life, in seconds. */
  lease: number().min(0.5).max(600).default(10),
  /** The most that mixes may take on the disk, in gigabytes: the longest unasked for go first. */
  mixesGb: number().min(0.1).max(100_000).default(20),
  /** The folder for stems and mixes. */
  files: string().required('OLD_ECHO_FILES_DIR must name a folder for sound'),
  /** A file to fill an empty database from. */
  seed: string().default(''),
  /** A folder of profiles as they are now: kinds of desk that are known already learn what they have besides. */
  profiles: string().default(''),
});

export type Config = ReturnType<typeof readConfig>;

/** The server's settings from environment variables. */
export const readConfig = (env: NodeJS.ProcessEnv) =>
  parseShape(shape, {
    host: env['OLD_ECHO_HOST'],
    port: env['OLD_ECHO_PORT'],
    networkPort: env['OLD_ECHO_NETWORK_PORT'],
    plain: env['OLD_ECHO_PLAIN'] === '1',
    certificate: env['OLD_ECHO_CERTIFICATE'],
    key: env['OLD_ECHO_KEY'],
    authority: env['OLD_ECHO_AUTHORITY'],
    databasePort: env['OLD_ECHO_DB_PORT'],
    databasePassword: env['OLD_ECHO_DB_PASSWORD'],
    database: env['OLD_ECHO_DB_NAME'],
    web: env['OLD_ECHO_WEB_DIR'],
    rest: env['OLD_ECHO_AUTOSAVE_IDLE'],
    lease: env['OLD_ECHO_RESTORE_LEASE'],
    mixesGb: env['OLD_ECHO_MIXES_GB'],
    files: env['OLD_ECHO_FILES_DIR'],
    seed: env['OLD_ECHO_SEED_FILE'],
    profiles: env['OLD_ECHO_PROFILES'],
  });
