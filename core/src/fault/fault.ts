/** What can go wrong, by its short name. Each code maps to one HTTP status on the server and one tone on the screen. */
export type FaultCode =
  | 'not-found'
  | 'refused-input'
  | 'conflict'
  | 'protected'
  | 'desk-moved'
  | 'no-difference'
  | 'desk-busy'
  | 'show-lock'
  | 'unanswered'
  | 'link-lost'
  | 'forbidden'
  | 'not-let-in'
  | 'wrong-secret'
  | 'disk-full'
  | 'damaged'
  | 'try-later'
  | 'unavailable';

/** An expected failure, told in the engineer's words: what happened, and what to do next. */
export class Fault extends Error {
  constructor(
    readonly code: FaultCode,
    message: string,
    /** One sentence: what the person can do now. */
    readonly advice: string,
    /** The path of what is wrong inside what was sent, where there is one. */
    readonly where?: string,
  ) {
    super(message);
    this.name = 'Fault';
  }
}
