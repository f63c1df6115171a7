import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import Repeat from 'lucide-react-native/icons/repeat';

import type { RenderView } from '@old-echo/core/contracts/sound';

import { Action, Chip } from '../../ui/actions';
import { Icon } from '../../ui/icon';
import { useWide } from '../../ui/page';
import { useLook } from '../../ui/theme';
import { CORNER, SPACE, TOUCH } from '../../ui/tokens';
import { Words } from '../../ui/words';
import { useKeys } from '../shell/use-keys';
import { BlindSheet } from './blind-sheet';
import type { Letter } from './two-players';
import type { Mix } from './use-mix';
import { usePlayers } from './use-players';
import { Waveform } from './waveform';

interface AuditionBarProps {
  readonly a: Mix;
  readonly b: Mix;
  readonly onListen: () => void;
  /** Whether someone asked to listen. */
  readonly listening: boolean;
}

/** Listening to A and B: together in time, one of them heard, as loud as one another. */
export function AuditionBar({ a, b, onListen, listening }: AuditionBarProps) {
  const look = useLook();
  const fault = a.fault ?? b.fault;
  const [left, right] = [a.view, b.view];
  const ready = left?.status === 'done' && right?.status === 'done';
  const stopped = [left, right].find((view) => view?.status === 'failed' || view?.status === 'cancelled');
  const done = (left?.done ?? 0) + (right?.done ?? 0);
  const total = (left?.total ?? 0) + (right?.total ?? 0);
  return (
    <View style={[styles.bar, { backgroundColor: look.card, borderColor: look.line }]} testID="audition">
      {ready ? (
        <Ready a={left} b={right} />
      ) : !listening ? (
        <Action kind="main" title="Listen to A and B" grow onPress={onListen} />
      ) : fault ? (
        <>
          <Words style={styles.fill} numberOfLines={2}>
            {fault.message} <Words tone="second">{fault.advice}</Words>
          </Words>
          <Action kind="small" title="Try again" onPress={onListen} />
        </>
      ) : stopped ? (
        <>
          <Words style={styles.fill}>{stopped.status === 'cancelled' ? 'Not worked out.' : stopped.why}</Words>
          <Action kind="small" title="Work it out again" onPress={onListen} />
        </>
      ) : (
        <>
          <Words style={styles.fill} accessibilityLiveRegion="polite">
            {total === 0 ? 'Getting ready to listen …' : `Working out both mixes: ${done} of ${total} steps`}
          </Words>
          <Action
            kind="small"
            title="Cancel"
            onPress={() => {
              a.cancel();
              b.cancel();
            }}
          />
        </>
      )}
    </View>
  );
}

/** Times a second at which the place is drawn. */
const DRAWN = 12;

function Ready({ a, b }: { readonly a: RenderView; readonly b: RenderView }) {
  const look = useLook();
  const wide = useWide();
  const players = usePlayers(a.id, b.id);
  const [heard, setHeard] = useState<Letter>('A');
  const [matched, setMatched] = useState(true);
  const [looping, setLooping] = useState(false);
  const [blind, setBlind] = useState(false);
  const [{ playing, place }, setNow] = useState({ playing: false, place: 0 });
  const [loudA, loudB] = [a.measured?.loudness.integrated, b.measured?.loudness.integrated];
  // The louder one comes down to the other: nothing gets louder than it was mixed.
  const apart = matched && loudA != null && loudB != null ? loudB - loudA : 0;
  useEffect(() => {
    players?.level({ A: 10 ** (Math.min(0, apart) / 20), B: 10 ** (-Math.max(0, apart) / 20) });
  }, [players, apart]);
  useEffect(() => {
    const timer = setInterval(() => {
      if (players) setNow({ playing: players.playing, place: players.place });
    }, 1000 / DRAWN);
    return () => clearInterval(timer);
  }, [players]);
  const hear = (letter: Letter) => {
    setHeard(letter);
    players?.hear(letter);
  };
  const toggle = () => {
    if (!players) return;
    if (players.playing) players.pause();
    else void players.play();
  };
  const loop = () => {
    const next = !looping;
    setLooping(next);
    void players?.repeat(next ? [0, players.seconds] : null);
  };
  useKeys({ ' ': toggle, a: () => hear('A'), b: () => hear('B'), x: () => hear(heard === 'A' ? 'B' : 'A') });
  if (!players) return <Words style={styles.fill}>Loading the sound …</Words>;
  const { seconds } = players;
  const wave = (
    <Waveform
      key="wave"
      overview={(heard === 'A' ? a : b).measured?.overview ?? []}
      place={place / seconds}
      colour={heard === 'A' ? look.a : look.b}
      seconds={seconds}
      onSeek={(to) => void players.seek(to * seconds)}
    />
  );
  const controls = (
    <View key="controls" style={styles.row}>
      <Pressable role="button" aria-pressed={looping} aria-label="Repeat" onPress={loop} style={styles.icon}>
        <Icon of={Repeat} color={looping ? look.ink : look.echo} />
      </Pressable>
      <Chip
        toggle
        title={apart === 0 ? 'Level matched' : `Matched, ${apart > 0 ? 'B' : 'A'} −${Math.abs(apart).toFixed(1)}`}
        chosen={matched}
        onPress={() => setMatched(!matched)}
      />
    </View>
  );
  return (
    <View style={styles.ready}>
      <View style={styles.row}>
        <Pressable role="button" aria-label={playing ? 'Pause' : 'Play'} onPress={toggle} style={styles.icon}>
          <Icon of={playing ? Pause : Play} />
        </Pressable>
        {(['A', 'B'] as const).map((letter) => {
          const tone = letter === 'A' ? look.a : look.b;
          const on = heard === letter;
          return (
            <Pressable
              key={letter}
              role="button"
              aria-pressed={on}
              aria-label={`Hear ${letter}`}
              onPress={() => hear(letter)}
              style={[styles.letter, { borderColor: tone, backgroundColor: on ? tone : look.card }]}
            >
              <Words kind="strong" tone={on ? 'paper' : letter === 'A' ? 'a' : 'b'}>
                {on ? `${letter}${playing ? ' playing' : ''}` : letter}
              </Words>
            </Pressable>
          );
        })}
        {wide ? [wave, controls] : null}
        <Action
          kind="small"
          title="Blind"
          onPress={() => {
            // Whoever hears which is louder needs no other difference.
            setMatched(true);
            setBlind(true);
          }}
        />
      </View>
      {wide ? null : <View style={styles.row}>{[wave, controls]}</View>}
      {blind ? (
        <BlindSheet
          players={players}
          onClose={() => {
            setBlind(false);
            players.pause();
            hear(heard);
          }}
        />
      ) : null}
    </View>
  );
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
  ready: { flex: 1, gap: SPACE.s },
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
