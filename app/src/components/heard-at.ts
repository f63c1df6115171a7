import dayjs from 'dayjs';

/** When something was last heard, in the middle of a sentence: "at 20:14", "yesterday at 20:14", "on 3 Nov at 20:14". */
export function heardAt(moment: string | null): string {
  if (moment === null) return 'never';
  const at = dayjs(moment);
  const days = dayjs().startOf('day').diff(at.startOf('day'), 'day');
  const day = days === 0 ? '' : days === 1 ? 'yesterday ' : `on ${at.format('D MMM')} `;
  return `${day}at ${at.format('HH:mm')}`;
}
