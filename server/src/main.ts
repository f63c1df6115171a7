import pino from 'pino';

import { Fault } from '@old-echo/core/fault/fault';

import { readConfig } from './http/config';
import { serve } from './start-server';

const log = pino({ level: process.env['OLD_ECHO_LOG_LEVEL'] ?? 'warn' });

// Whatever nobody was waiting for may fail without ending what others are at; the log says what it was.
process.on('unhandledRejection', (error) => log.error(error, 'something nobody waited for failed'));

async function main(): Promise<void> {
  const running = await serve(readConfig(process.env), log);
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    void running.close().then(() => process.exit(0));
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // Whoever started us was killed. The journal and the lease tell the next start where things stood.
  process.on('disconnect', () => process.exit(1));
  process.send?.({ ready: running.port, network: running.networkPort });
}

main().catch((error: unknown) => {
  const taken = error instanceof Error && 'code' in error && error.code === 'EADDRINUSE' && 'port' in error;
  const name = taken && error.port === Number(process.env['OLD_ECHO_NETWORK_PORT'] ?? 4651) ? 'NETWORK_PORT' : 'PORT';
  console.error(
    taken
      ? `Port ${String(error.port)} is taken. Set OLD_ECHO_${name} to a free one and start again.`
      : error instanceof Fault
        ? `${error.message} ${error.advice}`
        : error instanceof Error
          ? error.message
          : error,
  );
  process.exit(1);
});
