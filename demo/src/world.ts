import { NOWHERE } from '@old-echo/core/contracts/desk';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { defaultState, type State } from '@old-echo/core/desk/state';
import { settingsForVenue } from '@old-echo/core/library/venue';

import { FISH_MARKET, OUTBOARD, SHOW_PARTS, SONG_PARTS } from './beside';
import { LOW_WATER, SET_UP } from './net-loft';
import { HANDS_SINCE, RIG, SHOW } from './show';
import { BROADCAST, INSTRUMENTAL, MAIN, MIX_NOTES, TRACKS } from './song';
import { fader } from './sound';
import { makeStarterSet } from './starter';
import { after, type Told } from './tell';

interface WorldInput {
  /** The JSON of the profiles by id. */
  readonly profiles: Readonly<Record<'quay-48' | 'boathouse' | 'skiff-16' | 'netloft-24', unknown>>;
  /** Of the desks that a wire leads to. */
  readonly ports: Readonly<Record<'quay-48' | 'boathouse' | 'skiff-16', number>>;
  readonly now: Date;
  /** Makes an id for something that was made at a time. */
  readonly id: (madeAt: Date) => string;
  /** Puts a picture where the server keeps photos and says how it is called there; without it there are none. */
  readonly photoOf?: (picture: string) => string;
}

/** The invented world as a seed for the server, and as it stands on each desk. */
export function makeWorld({ profiles, ports, now, id, photoOf }: WorldInput) {
  const quay = parseProfile(profiles['quay-48']);
  const boathouse = parseProfile(profiles.boathouse);
  const skiff = parseProfile(profiles['skiff-16']);
  const netloft = parseProfile(profiles['netloft-24']);
  const minutesAgo = (minutes: number) => new Date(now.getTime() - minutes * 60_000);
  const long = minutesAgo(3 * 24 * 60);

  const line = (profile: Profile, start: State, told: readonly Told[], first: readonly string[], stands?: string) => {
    let [state, parents] = [start, first];
    return told.map(({ moves, ago, ...words }) => {
      state = after(profile, state, moves);
      const madeAt = minutesAgo(ago);
      const scene = {
        id: id(madeAt),
        ...words,
        madeAt: madeAt.toISOString(),
        parents,
        state,
        stands: words.name === stands,
      };
      if (words.kind === undefined) parents = [scene.id];
      return scene;
    });
  };

  const main = line(boathouse, after(boathouse, defaultState(boathouse), TRACKS), MAIN, [], MAIN.at(-1)?.name);
  const joint = main.find((scene) => scene.name === 'Voice rides');
  const instrumental = line(boathouse, joint?.state ?? {}, INSTRUMENTAL, joint ? [joint.id] : []);
  const balance = main.find((scene) => scene.name === 'Static balance');
  const broadcast = line(boathouse, balance?.state ?? {}, BROADCAST, balance ? [balance.id] : []);
  const show = line(quay, after(quay, defaultState(quay), RIG), SHOW, [], 'Harbour bells');
  const lowWater = line(netloft, after(netloft, defaultState(netloft), SET_UP), LOW_WATER, [], LOW_WATER.at(-1)?.name);
  const onQuay = show.find((scene) => scene.stands)?.state ?? {};

  const venue = (name: string, note: string, state: State, minutes: number) => ({
    name,
    note,
    settings: settingsForVenue(SHOW_PARTS, state),
    capturedAt: minutesAgo(minutes).toISOString(),
  });

  const desk = (profile: Profile, safes: object[]) => ({
    id: id(long),
    name: profile.name,
    profileId: profile.id,
    ...NOWHERE,
    ...(profile.id in ports ? { port: ports[profile.id as keyof typeof ports] } : {}),
    mode: profile.use,
    safes,
  });
  const desks = [
    desk(quay, [
      { strips: ['in.47', 'in.48'], sections: ['*'] },
      { strips: ['main.2'], sections: ['*'] },
    ]),
    desk(boathouse, []),
    desk(skiff, []),
    desk(netloft, []),
  ] as const;
  const version = (
    name: string,
    scenes: ReturnType<typeof line>,
    more: {
      fromSceneId?: string | undefined;
      followsId?: string;
      mixNotes?: readonly object[];
      note?: string;
      status?: string;
    } = {},
  ) => ({ id: id(long), name, scenes, ...more });

  const mainMix = version('Main mix', main, {
    note: 'For the record. Wren and the accordion carry it.',
    mixNotes: MIX_NOTES.map(
      ({ answered = false, ...mixNote }: (typeof MIX_NOTES)[number] & { answered?: boolean }) => ({
        ...mixNote,
        ...(answered ? { sceneId: main.at(-1)?.id } : {}),
      }),
    ),
  });

  return {
    seed: {
      profiles: Object.values(profiles),
      presets: makeStarterSet(boathouse, quay, main.at(-1)?.state ?? {}, onQuay).map((preset) => ({
        ...preset,
        id: id(long),
        madeOn: preset.profileId === quay.id ? quay.name : boathouse.name,
      })),
      desks,
      productions: [
        {
          id: id(long),
          deskId: desks[0].id,
          name: 'Night Ferry',
          kind: 'show',
          note: 'Saltmarsh Six in Harbour Hall.',
          versions: [version('The show', show)],
          parts: SHOW_PARTS,
          venues: [
            venue('Harbour Hall', 'Balcony rings at 250 Hz; doors close at eight.', onQuay, 20 * 60),
            venue('Fish market, in the open', '', after(quay, onQuay, FISH_MARKET), 3 * 24 * 60),
          ],
        },
        {
          id: id(long),
          deskId: desks[1].id,
          name: 'Lanterns on the Quay',
          kind: 'song',
          note: 'Saltmarsh Six, mixed on the Boathouse.',
          parts: SONG_PARTS,
          outboard: OUTBOARD.map(({ picture, ...unit }) => ({
            ...unit,
            photo: picture === undefined ? null : (photoOf?.(picture) ?? null),
          })),
          versions: [
            mainMix,
            version('Instrumental', instrumental, {
              fromSceneId: joint?.id,
              followsId: mainMix.id,
              note: 'For the dance floor.',
              status: 'sent',
            }),
            version('Broadcast edit', broadcast, {
              fromSceneId: balance?.id,
              followsId: mainMix.id,
              note: 'Three minutes ten.',
              status: 'approved',
            }),
          ],
        },
        {
          id: id(long),
          deskId: desks[2].id,
          name: 'Quayside busking',
          kind: 'show',
          note: 'The spare desk, when the big one stays at home.',
          versions: [version('The set', [])],
        },
        {
          id: id(long),
          deskId: desks[3].id,
          name: 'Low water',
          kind: 'song',
          note: 'On the old desk in the net loft. Every control is turned by hand.',
          versions: [version('As recorded', lowWater)],
        },
      ],
    },
    desks: {
      'quay-48': after(quay, onQuay, HANDS_SINCE),
      boathouse: main.at(-1)?.state ?? {},
      'skiff-16': after(skiff, defaultState(skiff), {
        'in.1': { 'label/name': 'Fiddle', ...fader(-10) },
        'main.1': fader(-6),
      }),
    },
  };
}
