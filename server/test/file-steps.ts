import type { FileNode, FileView } from '@old-echo/core/contracts/file-transfer';
import type { Problem } from '@old-echo/core/contracts/problem';

import { until, type Rig } from './server-rig';

export const api = (of: Rig, path: string) => `http://127.0.0.1:${of.running.port}/api${path}`;
export const download = async (of: Rig, path: string) => Buffer.from(await (await fetch(api(of, path))).arrayBuffer());
export async function upload(of: Rig, bytes: Uint8Array, name = 'a file') {
  const answer = await fetch(api(of, `/files?name=${encodeURIComponent(name)}`), {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: Buffer.from(bytes),
  });
  return { status: answer.status, body: (await answer.json()) as FileView & Problem };
}
export const leaves = (branches: readonly FileNode[]): string[] =>
  branches.flatMap(({ id, children }) => (children.length > 0 ? leaves(children) : [id]));
/** Brings in what a test lets through, and waits until that ended. */
export async function bring(of: Rig, file: FileView, takes: (id: string) => boolean = () => true, replace = false) {
  await of.post(`/files/${file.id}/import`, { take: leaves(file.branches).filter(takes), replace });
  let progress!: Pick<FileView, 'status' | 'why' | 'href'>;
  await until(async () => {
    progress = (await of.get<FileView>(`/files/${file.id}/progress`)).body;
    return progress.status !== 'bringing in';
  }, 60_000);
  return progress;
}
