import dayjs from 'dayjs';

/** "today 16:42", "yesterday 18:20", "3 Nov 18:20": after other words. */
export function whenInText(madeAt: string): string {
  const at = dayjs(madeAt);
  const days = dayjs().startOf('day').diff(at.startOf('day'), 'day');
  return `${days === 0 ? 'today' : days === 1 ? 'yesterday' : at.format('D MMM')} ${at.format('HH:mm')}`;
}

/** The same by itself: "Today 16:42". */
export function when(madeAt: string): string {
  const words = whenInText(madeAt);
  return words.charAt(0).toUpperCase() + words.slice(1);
}
