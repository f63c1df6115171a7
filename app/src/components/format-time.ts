import dayjs from 'dayjs';

/** "Today 16:42", "Yesterday 18:20", "3 Nov 18:20". */
export function when(madeAt: string): string {
  const at = dayjs(madeAt);
  const days = dayjs().startOf('day').diff(at.startOf('day'), 'day');
  return `${days === 0 ? 'Today' : days === 1 ? 'Yesterday' : at.format('D MMM')} ${at.format('HH:mm')}`;
}
