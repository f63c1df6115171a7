import type { CancelAction } from '@old-echo/core/contracts/restore';

/** What outdoes what: one can go back after a stop, and go back at once on the way back, but not the other way. */
const ORDER: readonly (CancelAction | null)[] = [null, 'stop', 'roll back', 'roll back at once'];

/** What was asked of a restore while it is at work. */
export class CancelRequest {
  private action: CancelAction | null = null;

  get requested(): CancelAction | null {
    return this.action;
  }

  readonly ask = (how: CancelAction): void => {
    if (ORDER.indexOf(how) > ORDER.indexOf(this.action)) this.action = how;
  };
}

/** The restores at work on this server, by id. Those of another are reached through the database. */
export class CancelRequests {
  private readonly all = new Map<string, CancelRequest>();

  open(id: string): CancelRequest {
    const control = new CancelRequest();
    this.all.set(id, control);
    return control;
  }

  of(id: string): CancelRequest | undefined {
    return this.all.get(id);
  }

  close(id: string): void {
    this.all.delete(id);
  }
}
