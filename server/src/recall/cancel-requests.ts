import type { CancelHow } from '@old-echo/core/contracts/restore';

/** What outdoes what: one can go back after a stop, and go back at once on the way back, but not the other way. */
const ORDER: readonly (CancelHow | null)[] = [null, 'stop', 'roll back', 'roll back at once'];

/** What was asked of a restore while it is at work. */
export class Control {
  private how: CancelHow | null = null;

  get asked(): CancelHow | null {
    return this.how;
  }

  readonly ask = (how: CancelHow): void => {
    if (ORDER.indexOf(how) > ORDER.indexOf(this.how)) this.how = how;
  };
}

/** The restores at work on this server, by id. Those of another are reached through the database. */
export class Controls {
  private readonly all = new Map<string, Control>();

  open(id: string): Control {
    const control = new Control();
    this.all.set(id, control);
    return control;
  }

  of(id: string): Control | undefined {
    return this.all.get(id);
  }

  close(id: string): void {
    this.all.delete(id);
  }
}
