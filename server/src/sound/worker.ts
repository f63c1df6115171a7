import { readFileSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';

import { Fault, type FaultCode } from '@old-echo/core/fault/fault';
import { readWav } from '@old-echo/core/signal/wav';
import { analyseRender } from '@old-echo/core/sound/analyse-render';

import { diskFullFault, isDiskFull } from '../database/disk-room';
import { bouncePiece, measureBounce } from './bounce-file';
import { packPiece } from './mix-piece';
import { packFlacFile } from './pack-flac';
import { resampleStem } from './resample-stem';
import { runLane } from './run-lane';
import { surveyStem } from './survey-stem';
import { unpackFlac } from './unpack-flac';
import type { Task, TaskResult, WorkerReply } from './worker-task';

async function work(task: Task): Promise<TaskResult> {
  switch (task.do) {
    case 'lane':
      return { lane: runLane(task) };
    case 'resample':
      await resampleStem(task.from, task.rate, task.file, task.part);
      return {};
    case 'piece':
      return { packed: await packPiece(task.file, task.from, task.grows) };
    case 'pack flac':
      await packFlacFile(task.bounce, task.to);
      return {};
    case 'unpack flac':
      await unpackFlac(task.from, task.to);
      return {};
    case 'survey':
      return { survey: surveyStem(task.file) };
    case 'analyse':
      return { analysis: analyseRender(readWav(readFileSync(task.file))) };
    case 'bounce':
      return { bounced: bouncePiece(task.bounce, task.from) };
    case 'measure':
      return { loudness: measureBounce(task.bounce) };
  }
}

/** What went wrong, as it can be said to another thread. */
function faultOf(error: unknown): WorkerReply['fault'] {
  const known = isDiskFull(error) ? diskFullFault() : error;
  if (known instanceof Fault) return { code: known.code, message: known.message, advice: known.advice };
  return { code: 'unavailable' satisfies FaultCode, message: String(error), advice: 'Try again.' };
}

parentPort?.on('message', ({ number, task }: { number: number; task: Task }) => {
  const answer = (said: Omit<WorkerReply, 'number'>) => parentPort?.postMessage({ number, ...said });
  work(task).then(
    (done) => answer({ done }),
    (error: unknown) => answer({ fault: faultOf(error) }),
  );
});
