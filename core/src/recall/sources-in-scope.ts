import { type BaselineOrigins, type BaselineSource, byShare } from '../scenes/baseline';
import type { CompiledScope } from './compile-scope';

/** What the cells that a scope lets come back are from, of all that a baseline is made of: what makes up most of them first. */
export function sourcesInScope({ sources, cells }: BaselineOrigins, scope: CompiledScope): BaselineSource[] {
  const inScope = (cell: string) => {
    const [strip = '', section = ''] = cell.split('/');
    return scope.cells[strip]?.[section] === 'comes back';
  };
  const within = Object.fromEntries(Object.entries(cells).filter(([cell]) => inScope(cell)));
  const used = new Set(Object.values(within).flat());
  return byShare({ sources, cells: within }).flatMap((i) => (used.has(i) ? (sources[i] ?? []) : []));
}
