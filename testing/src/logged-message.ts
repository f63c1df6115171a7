import type { LoggedMessage } from '@old-echo/core/desk/logged-message';

/** A message as the log of a wire has it. */
export const loggedMessage = (
  way: LoggedMessage['way'],
  address: string,
  more: Partial<LoggedMessage> = {},
): LoggedMessage => ({
  packet: 1,
  at: '2031-05-04T20:15:00.125Z',
  way,
  address,
  types: '',
  args: [],
  settings: [],
  ...more,
});
