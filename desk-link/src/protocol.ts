/** Addresses of the conversation about the link itself; docs/desk-link.md tells what each carries. */
export const HELLO = '/link/hello';
export const DESK = '/link/desk';
export const WATCH = '/link/watch';
export const WATCHING = '/link/watching';
export const PING = '/link/ping';
export const PONG = '/link/pong';
export const PUSH = '/link/push';
export const RESEND = '/link/resend';
export const EXPIRED = '/link/expired';
export const READ = '/link/read';
export const VALUES = '/link/values';
export const WRITE = '/link/write';
export const REFUSED = '/link/refused';

/** The UDP port at which desks answer a hello that is sent to all of a network. */
export const FIND_PORT = 47100;

/** How long a desk goes on pushing to a watcher that does not renew, in ms. */
export const WATCH_LEASE_MS = 5000;
