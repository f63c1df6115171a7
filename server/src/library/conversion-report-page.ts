import escapeHtml from 'escape-html';

import type { ConversionView } from '@old-echo/core/contracts/conversion';

import { printedPage } from '../http/printed-page';

const WHY = {
  part: 'same part',
  name: 'similar name',
  free: 'free strip',
  hand: 'your choice',
  none: 'left behind',
} as const;

/** What became of each strip, for paper. */
export function conversionReportHtml({ title, matches, lines, total }: ConversionView): string {
  const rows = matches.map(({ fromName, to, toName, why }) => {
    const own = lines.filter(({ strip }) => strip === to);
    const told = own.map(
      ({ how, what, why: reason }) => `${what}: ${how === 'clamped' ? '' : 'left behind, '}${reason}`,
    );
    return `<tr><td>${escapeHtml(fromName)}<td>${to === null ? 'left behind' : escapeHtml(`${toName} (${to})`)}<td>${WHY[why]}<td>${told.map(escapeHtml).join('<br>')}`;
  });
  return printedPage(
    title,
    `<p>${total} ${total === 1 ? 'scene' : 'scenes'} carried over.</p>
<table><tr><th>Strip<th>Goes to<th>Matched by<th>Changed or left behind${rows.join('')}</table>`,
  );
}
