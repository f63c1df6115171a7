import type { Profile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import type { DeskLink, LinkEvent } from './link';

/** A desk to prove a link against, and what can be done to it. */
interface ConformanceDesk {
  readonly profile: Profile;
  /** What the desk really holds. */
  settings(): SettingsByAddress;
  /** Hands on its controls. */
  hands(moves: SettingsByAddress): void;
  /** Loses and reorders this share of all packets, each way, from now on. */
  spoil(share: number): void;
  freeze(frozen: boolean): void;
  refuse(addresses: readonly string[]): void;
  /** Switches it off and on again. */
  restart(): Promise<void>;
  /** Opens a link to it. */
  link(): DeskLink;
  close(): Promise<void>;
}

/** Three settings that the proving desk must have: a number with this step, a switch, and a text. */
interface ProvingSettings {
  readonly number: string;
  readonly step: number;
  readonly toggle: string;
  readonly text: string;
}

/** What not every desk can do, and what a link to one that cannot does not claim. */
interface Abilities {
  /** It numbers what it is sent and what it tells: it leaves out what came too late, and says when it was switched on. */
  readonly numbers: boolean;
  /** It says what it does not take. */
  readonly refusesAloud: boolean;
}

/**
 * What any link must do. Call inside a Jest test file; a new implementation of {@link DeskLink} is proven with
 * `linkConformance('My link', makeDesk, settings)`.
 * @param can what the desk can do; what rests on something else is not looked at
 */
export function linkConformance(
  name: string,
  makeDesk: () => Promise<ConformanceDesk>,
  use: ProvingSettings,
  can: Abilities = { numbers: true, refusesAloud: true },
): void {
  describe(`${name} is a desk link`, () => {
    let desk: ConformanceDesk;
    let link: DeskLink;
    let heard: LinkEvent[];

    beforeEach(async () => {
      desk = await makeDesk();
      link = desk.link();
      heard = [];
      link.listen((event) => heard.push(event));
      await until(() => link.linked);
    });
    afterEach(async () => {
      await link.close();
      await desk.close();
    });

    const mirror = () => {
      const known: Record<string, unknown> = {};
      for (const event of heard) if (event.type === 'settings-changed') Object.assign(known, event.settings);
      return known;
    };
    const flat = async () => {
      const state = await link.readAll();
      return Object.fromEntries(
        Object.entries(state).flatMap(([strip, keys]) =>
          Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value]),
        ),
      );
    };

    test('reads everything as the desk holds it', async () => {
      expect(await flat()).toEqual(desk.settings());
      // Whoever listens knows it too.
      expect(mirror()).toEqual(desk.settings());
    });

    test('writes, and reads back what the desk made of it', async () => {
      await link.write({ [use.number]: -5 + use.step / 4, [use.toggle]: true, [use.text]: 'Wren' });
      expect(await link.read([use.number, use.toggle, use.text])).toEqual({
        [use.number]: -5,
        [use.toggle]: true,
        [use.text]: 'Wren',
      });
    });

    test('tells when a hand moves something', async () => {
      desk.hands({ [use.number]: -7 });
      await until(() => mirror()[use.number] === -7);
    });

    test('tells of each move by hand once, and never of its own', async () => {
      const hands = () => heard.flatMap((event) => (event.type === 'hands' ? [event.settings] : []));
      await link.write({ [use.number]: -4 });
      await until(() => mirror()[use.number] === -4);
      expect(hands()).toEqual([]);
      desk.hands({ [use.number]: -7 });
      await link.caughtUp();
      expect(hands()).toEqual([{ [use.number]: -7 }]);
    });

    if (can.numbers)
      test.each([0, 0.3])(
        'writes nothing over a hand it has not heard of, at a loss of %d',
        async (loss) => {
          desk.spoil(loss);
          for (let i = 1; i <= 40; i++) {
            const put = -i;
            const isKnown = () => heard.some((event) => event.type === 'hands' && event.settings[use.number] === put);
            // Somebody moves it in the middle of writes that go on until the link has told of it.
            for (let n = 0; !isKnown(); n++) {
              void link.write({ [use.number]: -50 - (n % 40) / 2 });
              if (n === 3) desk.hands({ [use.number]: put });
              await new Promise((resolve) => setTimeout(resolve, 2));
            }
            await new Promise((resolve) => setTimeout(resolve, 10));
            expect(desk.settings()[use.number]).toBe(put);
          }
        },
        60_000,
      );

    test.each([0, 0.3])('knows every move made before it has caught up, at a loss of %d', async (loss) => {
      desk.spoil(loss);
      for (let i = 1; i <= 20; i++) {
        const moves = { [use.number]: -i, [use.text]: `move ${i}` };
        desk.hands(moves);
        await link.caughtUp();
        expect(mirror()).toMatchObject(moves);
      }
    });

    if (can.refusesAloud)
      test('tells of a refusal, and the desk stays as it was', async () => {
        desk.refuse([use.number]);
        const before = desk.settings()[use.number];
        await link.write({ [use.number]: -3 });
        await until(() => heard.some((event) => event.type === 'refused' && event.address === use.number));
        expect(desk.settings()[use.number]).toBe(before);
      });

    test('notices a silent desk, refuses to pretend, and links again by itself', async () => {
      desk.freeze(true);
      const question = expect(link.read([use.number])).rejects.toMatchObject({ code: 'link-lost' });
      await until(() => !link.linked);
      await question;
      await expect(link.write({ [use.number]: -3 })).rejects.toMatchObject({ code: 'link-lost' });
      await expect(link.readAll()).rejects.toMatchObject({ code: 'link-lost' });
      desk.freeze(false);
      await until(() => link.linked);
      expect(heard.map((event) => event.type).filter((type) => type !== 'settings-changed')).toEqual([
        'linked',
        'unlinked',
        'linked',
      ]);
    });

    if (can.numbers)
      test('notices that the desk was switched off and on', async () => {
        await desk.restart();
        await until(() => heard.filter((event) => event.type === 'linked').length === 2);
        desk.hands({ [use.number]: -9 });
        await until(() => mirror()[use.number] === -9);
      });

    test('loses no move and reads everything at 30 % loss and reordering each way', async () => {
      desk.spoil(0.3);
      for (let i = 0; i < 60; i++) {
        desk.hands({ [use.number]: -i * use.step, [use.toggle]: i % 2 === 0, [use.text]: `take ${i}` });
        await new Promise((resolve) => setTimeout(resolve, 15));
      }
      const last = { [use.number]: -59 * use.step, [use.toggle]: false, [use.text]: 'take 59' };
      await until(() => Object.entries(last).every(([address, value]) => mirror()[address] === value), 15_000);
      expect(await flat()).toEqual(desk.settings());
    }, 40_000);

    if (can.numbers)
      test('an older write that arrives late does not undo a newer one', async () => {
        desk.spoil(0.3);
        for (let i = 1; i <= 40; i++) await link.write({ [use.number]: -i });
        for (let tries = 0; (await link.read([use.number]))[use.number] !== -40; tries++) {
          expect(tries).toBeLessThan(20);
          await link.write({ [use.number]: -40 });
        }
        await new Promise((resolve) => setTimeout(resolve, 200));
        expect(desk.settings()[use.number]).toBe(-40);
      }, 40_000);
  });
}

async function until(holds: () => boolean, within = 6000): Promise<void> {
  for (const start = performance.now(); !holds();) {
    if (performance.now() - start > within) throw new Error(`not within ${within} ms`);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
}
