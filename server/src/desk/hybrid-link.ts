import { isManualAt } from '@old-echo/core/desk/manual';
import type { Profile } from '@old-echo/core/desk/profile';
import { joinSettings, type SettingsByAddress, type State } from '@old-echo/core/desk/state';
import type { DeskLink, LinkEvent } from '@old-echo/desk-link/link';
import type { WireLog } from '@old-echo/desk-link/wire-log';

/** The link of a desk of which some is wired and some is turned by hand. It answers while what is wired does. */
export class HybridLink implements DeskLink {
  constructor(
    readonly profile: Profile,
    private readonly wired: DeskLink,
    private readonly manual: DeskLink,
  ) {}

  get linked(): boolean {
    return this.wired.linked;
  }

  get wireLog(): WireLog | undefined {
    return this.wired.wireLog;
  }

  async readAll(): Promise<State> {
    const [wired, manual] = await Promise.all([this.wired.readAll(), this.manual.readAll()]);
    return { ...wired, ...manual };
  }

  async read(addresses: readonly string[]): Promise<SettingsByAddress> {
    const [manual, wired] = [addresses.filter(this.isManual), addresses.filter((address) => !this.isManual(address))];
    // Where nothing is asked of what is wired, it need not answer.
    const lots = await Promise.all([wired.length > 0 ? this.wired.read(wired) : {}, this.manual.read(manual)]);
    return joinSettings(lots);
  }

  async caughtUp(): Promise<void> {
    await Promise.all([this.wired.caughtUp(), this.manual.caughtUp()]);
  }

  async write(settings: SettingsByAddress, shouldContinue?: () => boolean): Promise<void> {
    const part = (manual: boolean) =>
      Object.fromEntries(Object.entries(settings).filter(([address]) => this.isManual(address) === manual));
    const [manual, wired] = [part(true), part(false)];
    await this.manual.write(manual, shouldContinue);
    if (Object.keys(wired).length > 0) await this.wired.write(wired, shouldContinue);
  }

  listen(listener: (event: LinkEvent) => void): () => void {
    const stops = [
      this.wired.listen(listener),
      // Whether the desk answers is for what is wired to say.
      this.manual.listen((event) => event.type === 'settings-changed' && listener(event)),
    ];
    return () => stops.forEach((stop) => stop());
  }

  async close(): Promise<void> {
    await Promise.all([this.wired.close(), this.manual.close()]);
  }

  private readonly isManual = (address: string): boolean => isManualAt(this.profile, address);
}
