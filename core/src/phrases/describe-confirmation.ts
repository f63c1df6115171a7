import { formatCount, plural } from './format-value';

/** An ended restore: what cannot be asked for was sent, and is never said to be confirmed. */
interface Confirmation {
  readonly changes: number;
  readonly report: {
    readonly confirmed: number;
    readonly unasked?: readonly string[];
    readonly byHand?: readonly string[];
  } | null;
}

/** "All confirmed", "28 of 31 confirmed, 3 sent" or "28 of 40 confirmed, 12 set by hand". */
export function describeConfirmation({ report }: Pick<Confirmation, 'report'>): string {
  const others = othersOf(report);
  if (!report || others.length === 0) return 'All confirmed';
  const all = report.confirmed + others.reduce((sum, [count]) => sum + count, 0);
  const told = others.map(([count, how]) => `${formatCount(count)} ${how}`);
  if (report.byHand?.length === all) return 'All set by hand';
  return [`${formatCount(report.confirmed)} of ${formatCount(all)} confirmed`, ...told].join(', ');
}

/** "31 settings confirmed", or "28 settings confirmed, 3 sent". */
export function countConfirmed({ changes, report }: Confirmation): string {
  const others = othersOf(report);
  const confirmed = changes - others.reduce((sum, [count]) => sum + count, 0);
  return [
    `${plural(confirmed, 'setting')} confirmed`,
    ...others.map(([count, how]) => `${formatCount(count)} ${how}`),
  ].join(', ');
}

/** What is not confirmed and did not fail: sent where it cannot be asked for, or said to be set. */
const othersOf = (report: Confirmation['report']): (readonly [count: number, how: string])[] =>
  (
    [
      [report?.unasked?.length ?? 0, 'sent'],
      [report?.byHand?.length ?? 0, 'set by hand'],
    ] as const
  ).filter(([count]) => count > 0);
