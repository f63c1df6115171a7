import type { DeskLinkView } from '@old-echo/core/contracts/desk';
import { isManualDesk } from '@old-echo/core/desk/manual';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { sameValue, type Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, type State, valueAt, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { DeskLink } from '@old-echo/desk-link/link';

import { lookForEver } from './slow-look';

export type SessionEvent =
  | { readonly type: 'link' }
  /** Everything was read anew. */
  | { readonly type: 'full-state' }
  | { readonly type: 'settings-changed'; readonly settings: SettingsByAddress }
  /** What a hand has moved: on the desk, in another program, or a person in the app. */
  | { readonly type: 'hands'; readonly settings: SettingsByAddress }
  | { readonly type: 'refused'; readonly address: string; readonly why: string };

/** Rounds of reading again while a capture goes on; hands that move for longer give their newest values. */
const MAX_REREADS = 5;
/** Pause before everything is read again after a reading failed, in ms. */
const REREAD_DELAY_MS = 500;

/**
 * One desk as this server sees it: a mirror of its settings that follows every move. Everything here can be read again
 * from the desk at any time, so any number of servers can hold one.
 */
export class DeskMirror {
  /** Settings as last heard, by this server or one before it. Only to be believed while {@link linkStatus} says `linked`. */
  state: State;
  /** Whether anything was ever heard of the desk; before that nothing is claimed of it. */
  get everHeard(): boolean {
    return Object.keys(this.state).length > 0;
  }
  private view: DeskLinkView = { state: 'unlinked', why: 'The desk is not connected yet.' };
  private readings = 0;
  private readonly listeners = new Set<(event: SessionEvent) => void>();
  private readonly stopListening: () => void;
  private readonly stopLooking: () => void;

  constructor(
    readonly deskId: string,
    readonly wire: DeskLink,
    before: State = {},
    lookEvery?: number,
  ) {
    this.state = before;
    this.stopListening = wire.listen((event) => {
      if (event.type === 'linked' || event.type === 'resync') void this.readAll();
      if (event.type === 'unlinked') this.setLink({ state: 'unlinked', why: event.why });
      if (event.type === 'settings-changed') this.applyMoves(event.settings);
      if (event.type === 'refused' || event.type === 'hands') this.tell(event);
    });
    this.stopLooking = lookForEver(wire, lookEvery);
  }

  get profile(): Profile {
    return this.wire.profile;
  }

  get linkStatus(): DeskLinkView {
    return this.view;
  }

  listen(listener: (event: SessionEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Throws a Fault `link-lost` unless the mirror can be believed. */
  assertLinked(): void {
    if (this.view.state === 'linked') return;
    const message = this.view.state === 'reading' ? `${this.profile.name} is still being read.` : this.view.why;
    throw new Fault('link-lost', message, 'Nothing was sent. Old Echo reconnects by itself; try again then.');
  }

  /** Reads the whole desk. What moves during the read is read again, until nothing does. */
  async capture(): Promise<State> {
    this.assertLinked();
    let moved = new Set<string>();
    const stop = this.listen((event) => {
      if (event.type === 'settings-changed') Object.keys(event.settings).forEach((address) => moved.add(address));
    });
    try {
      await this.wire.readAll();
      for (let round = 0; moved.size > 0 && round < MAX_REREADS; round++) {
        const again = [...moved];
        moved = new Set();
        await this.wire.read(again);
      }
      this.assertLinked();
      return this.state;
    } finally {
      stop();
    }
  }

  /** Makes sure that {@link state} is what the desk holds at this moment. @throws Fault `link-lost` */
  async syncUpToNow(): Promise<void> {
    this.assertLinked();
    await this.wire.caughtUp();
    this.assertLinked();
  }

  /** A person in the app is about to move something: whoever gives way to hands gives way to them too. */
  movedByPerson(settings: SettingsByAddress): void {
    this.tell({ type: 'hands', settings });
  }

  async close(): Promise<void> {
    this.stopListening();
    this.stopLooking();
    await this.wire.close();
  }

  private async readAll(): Promise<void> {
    const reading = ++this.readings;
    this.setLink({ state: 'reading', why: `Reading ${this.profile.name}.` });
    try {
      await this.wire.readAll();
      // The link may have been lost and found again meanwhile: then a later reading counts.
      if (reading !== this.readings) return;
      this.setLink({ state: 'linked', why: '' });
      this.tell({ type: 'full-state' });
    } catch {
      // The link tells of it when the desk is gone; a desk that answers in part is asked again.
      setTimeout(() => {
        if (this.wire.linked && reading === this.readings) void this.readAll();
      }, REREAD_DELAY_MS);
    }
  }

  private applyMoves(settings: SettingsByAddress): void {
    const moved: Record<string, Value> = {};
    for (const [address, value] of Object.entries(settings)) {
      const spec = specOf(this.profile, address);
      if (spec && !sameValue(spec, valueAt(this.state, address), value)) moved[address] = value;
    }
    if (Object.keys(moved).length === 0) return;
    this.state = withSettings(this.state, moved);
    if (this.view.state === 'linked') this.tell({ type: 'settings-changed', settings: moved });
  }

  private setLink(view: DeskLinkView): void {
    this.view = isManualDesk(this.profile) ? { ...view, manual: true } : view;
    this.tell({ type: 'link' });
  }

  private tell(event: SessionEvent): void {
    for (const listener of [...this.listeners]) listener(event);
  }
}
