import type { FileNode, ImportProgress, ImportRequest, ImportView } from '@old-echo/core/contracts/file-transfer';
import type { JobStatus } from '@old-echo/core/contracts/job';
import type { Problem } from '@old-echo/core/contracts/problem';

import { type Rig, until } from '../server-rig';

export const api = (of: Rig, path: string) => `http://127.0.0.1:${of.running.port}/api${path}`;
export const download = async (of: Rig, path: string) => Buffer.from(await (await fetch(api(of, path))).arrayBuffer());
export async function upload(of: Rig, bytes: Uint8Array, name = 'a file') {
  const answer = await fetch(api(of, `/imports?name=${encodeURIComponent(name)}`), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: Buffer.from(bytes),
  });
  return { status: answer.status, body: (await answer.json()) as ImportView & Problem };
}
export const leaves = (branches: readonly FileNode[]): string[] =>
  branches.flatMap(({ id, children }) => (children.length > 0 ? leaves(children) : [id]));
/** Brings in what a test lets through, and waits until that ended. */
export async function bring(
  of: Rig,
  file: ImportView,
  takes: (id: string) => boolean = () => true,
  more: Partial<Pick<ImportRequest, 'replace' | 'intoId'>> = {},
) {
  await of.post(`/imports/${file.id}/start`, { include: leaves(file.branches).filter(takes), ...more });
  let progress!: { status?: JobStatus; why?: string; resultPath: string | null };
  await until(async () => {
    const { job, resultPath } = (await of.get<ImportProgress>(`/imports/${file.id}/progress`)).body;
    progress = { status: job?.status, why: job?.why, resultPath };
    return progress.status !== 'running';
  }, 60_000);
  return progress;
}
