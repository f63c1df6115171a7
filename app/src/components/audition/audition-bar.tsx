import { useRouter } from 'expo-router';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { shallowEqual } from 'react-redux';

import { clock } from '@old-echo/core/contracts/mix-note';
import { RENDER_ROUTES, STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { MAX_POLL_WAIT_MS, MIX_RATE, type RenderView } from '@old-echo/core/contracts/sound';
import { plural } from '@old-echo/core/phrases/format-value';
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
import { listeningLabel } from './listening-label';
import { ListeningSheet } from './listening-sheet';
import { type LoopRange, nextLoop } from './loop-range';
import type { PlayedMix } from './mix-pieces';
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
  const ready = left && right && isHeard(left) && isHeard(right);
  const stopped = [left, right].find((view) => view?.status === 'failed' || view?.status === 'cancelled');
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
          <AppText style={styles.fill}>
            {stopped.status === 'cancelled' ? 'Rendering was cancelled.' : stopped.why}
          </AppText>
          <Action kind="small" title="Try again" onPress={listen} />
        </>
      ) : (
        <Rendering audition={audition} />
      )}
    </View>
  );
}

/** While there is nothing to be heard yet. */
function Rendering({ audition: { mixA, mixB } }: Pick<AuditionBarProps, 'audition'>) {
  const views = [mixA.view, mixB.view];
  const part = (of: 'done' | 'total') => views.reduce((sum, view) => sum + (view?.[of] ?? 0), 0);
  const isRunning = part('total') > 0 && views.some((view) => view?.status === 'running');
  return (
    <>
      <AppText style={styles.fill} accessibilityLiveRegion="polite">
        {isRunning
          ? `Rendering both mixes: ${Math.floor((100 * part('done')) / part('total'))} %`
          : 'Getting ready to listen …'}
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
  const { hearing: letter, range } = audition;
  const look = useLook();
  const wide = useIsWide();
  const loaded = usePlayers(usePlayedMix(a), usePlayedMix(b), audition.spot);
  const players = loaded === 'failed' ? undefined : loaded;
  const [matched, setMatched] = useState(true);
  const [sheet, setSheet] = useState<'blind' | 'heard' | null>(null);
  const [{ playing, waiting, late, place }, setNow] = useState({
    playing: false,
    waiting: false,
    late: false,
    place: 0,
  });
  const apart = matched ? difference(a, b, range) : 0;
  const part = Math.min(partOf(a), partOf(b));
  const leveled = useRef<object>({});
  useEffect(() => {
    if (!players) return;
    // What only becomes better known is matched so slowly that nobody hears it.
    const how = { players, matched, from: range?.[0], to: range?.[1] };
    const gradually = shallowEqual(leveled.current, how);
    leveled.current = how;
    players.level({ A: dbToFactor(Math.min(0, apart)), B: dbToFactor(-Math.max(0, apart)) }, { gradually });
  }, [players, matched, range, apart]);
  useEffect(() => {
    void players?.repeat(range);
  }, [players, range]);
  useEffect(() => {
    const timer = setInterval(() => {
      if (players)
        setNow({ playing: players.playing, waiting: players.waiting, late: players.late, place: players.place });
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
  const repeat = () => players && audition.repeat(nextLoop(range, players.place, players.seconds));
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
  if (!players)
    return part < 1 ? <Rendering audition={audition} /> : <AppText style={styles.fill}>Loading the sound …</AppText>;
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
      <Chip
        toggle
        title={part < 1 ? 'Level-matched so far' : 'Level-matched'}
        chosen={matched}
        onPress={() => setMatched(!matched)}
      />
      {part < 1 ? (
        <AppText
          kind="small"
          style={styles.part}
          tone={waiting || late ? 'stop' : 'second'}
          accessibilityLiveRegion="polite"
        >
          {waiting ? 'Waiting, ' : late ? 'Slower than it plays, ' : ''}
          {Math.floor(100 * part)} % rendered
        </AppText>
      ) : (
        <Action
          kind="small"
          title="Blind test …"
          onPress={() => {
            // Whoever hears which is louder needs no other difference.
            setMatched(true);
            setSheet('blind');
          }}
        />
      )}
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
          const down = players.softerBy(one);
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
      {audition.missing > 0 ? (
        <AppText kind="small" tone="stop">
          {`${plural(audition.missing, 'stem')} missing on the disk, and not heard.`}
        </AppText>
      ) : null}
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

/** How much of a mix is rendered, 0 … 1. */
const partOf = ({ status, done, total }: RenderView): number => (status === 'done' ? 1 : total > 0 ? done / total : 0);

const secondsOf = ({ measured, total: frames }: RenderView): number => measured?.seconds ?? frames / MIX_RATE;

/** Whether a mix can be heard, or will be as soon as its beginning is there. */
const isHeard = ({ status, total }: RenderView): boolean => status === 'done' || (status === 'running' && total > 0);

/** A mix as it is played; the same while it is the same. */
function usePlayedMix(view: RenderView): PlayedMix {
  const { id } = view;
  const seconds = secondsOf(view);
  return useMemo(
    () => ({
      seconds,
      address: (piece) =>
        addressOf(RENDER_ROUTES.renderPiece, {
          params: { id, piece: String(piece) },
          query: { wait: MAX_POLL_WAIT_MS },
        }),
    }),
    [id, seconds],
  );
}

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
  part: { flex: 1, minWidth: SPACE.xl * 3 },
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
