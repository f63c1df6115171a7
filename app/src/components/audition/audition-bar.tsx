import { useRouter } from 'expo-router';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { RENDER_ROUTES, STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { dbToFactor } from '@old-echo/core/signal/sound';
import { integratedBetween } from '@old-echo/core/sound/loudness';

import { addressOf } from '../../store/ask';
import { AppText } from '../../ui/app-text';
import { Action, Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Icon } from '../../ui/icon';
import { useIsWide } from '../../ui/layout';
import { useLook } from '../../ui/theme';
import { CORNER, SPACE, TOUCH } from '../../ui/tokens';
import { useShortcuts } from '../../ui/use-shortcuts';
import type { AbSide } from './ab-player';
import { BlindTestSheet } from './blind-test-sheet';
import { clock, listeningLabel } from './listening-label';
import { ListeningSheet } from './listening-sheet';
import { type LoopRange, nextLoop } from './loop-range';
import { usePlayers } from './use-ab-player';
import type { Audition } from './use-audition';
import { Waveform } from './waveform';

interface AuditionBarProps {
  readonly audition: Audition;
  /** What the button that begins says, where something else is the main thing on its screen. */
  readonly title?: string;
  /** Called with the one that is heard from now on. */
  readonly onHear?: ((letter: AbSide) => void) | undefined;
}

/** Listening to A and B: together in time, one of them heard, as loud as one another. */
export function AuditionBar({ audition, title, onHear }: AuditionBarProps) {
  const look = useLook();
  const router = useRouter();
  const { mixA, mixB, listening, listen } = audition;
  const fault = mixA.fault ?? mixB.fault;
  const [left, right] = [mixA.view, mixB.view];
  const ready = left?.status === 'done' && right?.status === 'done';
  const stopped = [left, right].find((view) => view?.status === 'failed' || view?.status === 'cancelled');
  const done = (left?.done ?? 0) + (right?.done ?? 0);
  const total = (left?.total ?? 0) + (right?.total ?? 0);
  return (
    <View style={[styles.bar, { backgroundColor: look.card, borderColor: look.line }]} testID="audition">
      {ready ? (
        <Ready a={left} b={right} audition={audition} onHear={onHear} />
      ) : audition.stems === 0 ? (
        <>
          <AppText style={styles.fill}>No stems yet. Attach the recordings, and any two mixes can be heard.</AppText>
          <Action
            asks={STEM_ROUTES.attachStem}
            kind="small"
            title="Attach stems"
            onPress={() => router.navigate(`/mixes/${audition.productionId}/stems`)}
          />
        </>
      ) : !listening ? (
        <Action
          kind={title ? 'other' : 'main'}
          title={[title ?? 'Listen to A and B', ...listeningLabel(audition).split(' · ').slice(1)].join(': ')}
          grow
          onPress={listen}
        />
      ) : fault ? (
        <>
          <AppText style={styles.fill} numberOfLines={2}>
            {fault.message} <AppText tone="second">{fault.advice}</AppText>
          </AppText>
          <Action kind="small" title="Try again" onPress={listen} />
        </>
      ) : stopped ? (
        <>
          <AppText style={styles.fill}>{stopped.status === 'cancelled' ? 'Rendering failed.' : stopped.why}</AppText>
          <Action kind="small" title="Try again" onPress={listen} />
        </>
      ) : (
        <>
          <AppText style={styles.fill} accessibilityLiveRegion="polite">
            {total === 0 ? 'Getting ready to listen …' : `Rendering both mixes: ${done} of ${total} steps`}
          </AppText>
          <Action
            kind="small"
            title="Cancel"
            onPress={() => {
              mixA.cancel();
              mixB.cancel();
            }}
          />
        </>
      )}
    </View>
  );
}

/** Times a second at which the place is drawn. */
const DRAWN = 12;

interface ReadyProps extends Pick<AuditionBarProps, 'onHear'> {
  readonly a: RenderView;
  readonly b: RenderView;
  readonly audition: Audition;
}

function Ready({ a, b, audition, onHear }: ReadyProps) {
  const { hearing: letter } = audition;
  const look = useLook();
  const wide = useIsWide();
  const loaded = usePlayers(soundOf(a), soundOf(b));
  const players = loaded === 'failed' ? undefined : loaded;
  const [matched, setMatched] = useState(true);
  const [range, setRange] = useState<LoopRange | null>(null);
  const [sheet, setSheet] = useState<'blind' | 'heard' | null>(null);
  const [{ playing, place }, setNow] = useState({ playing: false, place: 0 });
  const apart = matched ? difference(a, b, range) : 0;
  useEffect(() => {
    players?.level({ A: dbToFactor(Math.min(0, apart)), B: dbToFactor(-Math.max(0, apart)) });
  }, [players, apart]);
  useEffect(() => {
    void players?.repeat(range);
  }, [players, range]);
  useEffect(() => {
    const timer = setInterval(() => {
      if (players) setNow({ playing: players.playing, place: players.place });
    }, 1000 / DRAWN);
    return () => clearInterval(timer);
  }, [players]);
  useEffect(() => players?.hear(letter), [players, letter]);
  const hear = (one: AbSide) => {
    audition.hear(one);
    onHear?.(one);
  };
  const toggle = () => {
    if (!players) return;
    if (players.playing) players.pause();
    else void players.play();
  };
  const repeat = () => players && setRange(nextLoop(range, players.place, players.seconds));
  useShortcuts({
    ' ': toggle,
    a: () => hear('A'),
    b: () => hear('B'),
    x: () => hear(letter === 'A' ? 'B' : 'A'),
    l: repeat,
  });
  if (loaded === 'failed')
    return (
      <>
        <AppText style={styles.fill}>The sound could not be loaded.</AppText>
        <Action kind="small" title="Try again" onPress={audition.listen} />
      </>
    );
  if (!players) return <AppText style={styles.fill}>Loading the sound …</AppText>;
  const { seconds } = players;
  const wave = (
    <View style={styles.wave}>
      <Waveform
        overview={(letter === 'A' ? a : b).measured?.overview ?? []}
        place={place / seconds}
        range={range && [range[0] / seconds, range[1] / seconds]}
        colour={letter === 'A' ? look.a : look.b}
        seconds={seconds}
        onSeek={(to) => void players.seek(to * seconds)}
      />
      <Chip
        toggle
        title={range ? `${clock(range[0])}–${clock(range[1])}` : 'Repeat'}
        chosen={range !== null}
        onPress={repeat}
      />
    </View>
  );
  const chips = (
    <ChipRow>
      {audition.stale ? (
        <Action kind="small" title="The desk moved: render it again" onPress={audition.listen} />
      ) : null}
      <Action
        kind="small"
        title={listeningLabel(audition).split(' · ').at(-1) ?? ''}
        onPress={() => setSheet('heard')}
      />
      <Chip toggle title="Level-matched" chosen={matched} onPress={() => setMatched(!matched)} />
      <Action
        kind="small"
        title="Blind test …"
        onPress={() => {
          // Whoever hears which is louder needs no other difference.
          setMatched(true);
          setSheet('blind');
        }}
      />
    </ChipRow>
  );
  return (
    <View style={styles.ready}>
      <View style={styles.row}>
        <Pressable role="button" aria-label={playing ? 'Pause' : 'Play'} onPress={toggle} style={styles.icon}>
          <Icon of={playing ? Pause : Play} />
        </Pressable>
        {(['A', 'B'] as const).map((one) => {
          const tone = one === 'A' ? look.a : look.b;
          const on = letter === one;
          const down = one === 'A' ? Math.max(0, -apart) : Math.max(0, apart);
          const words = [one, on && playing ? 'playing' : '', down >= 0.05 ? `−${down.toFixed(1)} dB` : ''];
          return (
            <Pressable
              key={one}
              role="button"
              aria-pressed={on}
              aria-label={`Hear ${one}`}
              onPress={() => hear(one)}
              style={[styles.letter, { borderColor: tone, backgroundColor: on ? tone : look.card }]}
            >
              <AppText kind="strong" tone={on ? 'paper' : one === 'A' ? 'a' : 'b'}>
                {words.filter(Boolean).join(' ')}
              </AppText>
            </Pressable>
          );
        })}
        {wide ? wave : null}
      </View>
      {wide ? null : <View style={styles.row}>{wave}</View>}
      {chips}
      {sheet === 'heard' ? <ListeningSheet audition={audition} onClose={() => setSheet(null)} /> : null}
      {sheet === 'blind' ? (
        <BlindTestSheet
          players={players}
          audition={audition}
          part={range ? `${clock(range[0])}–${clock(range[1])}` : ''}
          onClose={() => {
            setSheet(null);
            players.pause();
            players.hear(letter);
          }}
        />
      ) : null}
    </View>
  );
}

const soundOf = ({ id }: RenderView): string => addressOf(RENDER_ROUTES.renderAudio, { params: { id } });

/** How much louder B is than A in a part, or in the whole, in LU. */
function difference(a: RenderView, b: RenderView, range: LoopRange | null): number {
  const loudness = ({ measured }: RenderView) =>
    measured && (range ? integratedBetween(measured.loudness.momentary, ...range) : measured.loudness.integrated);
  const [left, right] = [loudness(a), loudness(b)];
  // The louder one comes down to the other: nothing gets louder than it was mixed.
  return left == null || right == null ? 0 : right - left;
}

const styles = StyleSheet.create({
  bar: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    paddingHorizontal: SPACE.l,
    paddingVertical: SPACE.s,
    borderTopWidth: 1,
  },
  fill: { flex: 1, minWidth: 0 },
  ready: { flex: 1, minWidth: 0, gap: SPACE.s },
  wave: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  icon: { width: TOUCH, height: TOUCH, alignItems: 'center', justifyContent: 'center' },
  letter: {
    flex: 1,
    maxWidth: 150,
    minHeight: TOUCH + SPACE.xs,
    borderWidth: 2,
    borderRadius: CORNER.large,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
