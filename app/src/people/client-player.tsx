import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { useEffect, useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { ClientPage } from '@old-echo/core/contracts/client-link';
import { clock } from '@old-echo/core/contracts/mix-note';
import { CLIENT_ROUTES } from '@old-echo/core/contracts/routes/client-routes';
import { dbToFactor } from '@old-echo/core/signal/sound';

import type { AbSide } from '../components/audition/ab-player';
import type { PlayedMix } from '../components/audition/mix-pieces';
import { usePlayers } from '../components/audition/use-ab-player';
import { Waveform } from '../components/audition/waveform';
import { addressOf } from '../store/ask';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Icon } from '../ui/icon';
import { Card } from '../ui/layout';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

interface ClientPlayerProps {
  readonly token: string;
  readonly page: ClientPage;
  /** Called with the mix that is heard and where in the song. */
  readonly onAt: (at: { mix: number; seconds: number }) => void;
}

/** Times a second at which the place is drawn. */
const DRAWN = 6;
const SIDES: readonly AbSide[] = ['A', 'B'];

/** One mix, or two in step and as loud as one another. */
export function ClientPlayer({ token, page: { mixes, mayDownload }, onAt }: ClientPlayerProps) {
  const look = useLook();
  const seconds = Math.min(...mixes.map((mix) => mix.seconds));
  const [a, b] = useMemo(() => {
    const played = (mix: number): PlayedMix => ({
      seconds,
      address: (piece) =>
        addressOf(CLIENT_ROUTES.clientPiece, { params: { token, mix: String(mix), piece: String(piece) } }),
    });
    const first = played(0);
    return [first, mixes.length > 1 ? played(1) : first];
  }, [token, mixes.length, seconds]);
  const loaded = usePlayers(a, b);
  const player = loaded === 'failed' ? undefined : loaded;
  const [heard, setHeard] = useState<AbSide>('A');
  const [matched, setMatched] = useState(true);
  const [{ playing, place }, setNow] = useState({ playing: false, place: 0 });
  const [first, second] = [mixes[0]?.loudness, mixes[1]?.loudness];
  // The louder one comes down to the other: nothing gets louder than it was mixed.
  const apart = matched && first != null && second != null ? second - first : 0;
  useEffect(() => {
    player?.level({ A: dbToFactor(Math.min(0, apart)), B: dbToFactor(-Math.max(0, apart)) });
  }, [player, apart]);
  useEffect(() => player?.hear(heard), [player, heard]);
  useEffect(() => {
    const timer = setInterval(() => {
      if (!player) return;
      setNow({ playing: player.playing, place: player.place });
      onAt({ mix: SIDES.indexOf(player.heard), seconds: player.place });
    }, 1000 / DRAWN);
    return () => clearInterval(timer);
  }, [player, onAt]);
  const toggle = () => {
    if (!player) return;
    if (player.playing) player.pause();
    else void player.play();
  };
  const isPair = mixes.length === 2;
  const hear = (side: AbSide) => {
    if (side === 'A' || isPair) setHeard(side);
  };
  useShortcuts({ ' ': toggle, a: () => hear('A'), b: () => hear('B'), x: () => hear(heard === 'A' ? 'B' : 'A') });
  if (loaded === 'failed')
    return (
      <Card edge="stop">
        <AppText kind="strong">The sound could not be loaded.</AppText>
        <AppText tone="second">Open the link once more, or ask whoever sent it.</AppText>
      </Card>
    );
  const mix = mixes[SIDES.indexOf(heard)];
  return (
    <Card>
      {mixes.map(({ name, loudness }, i) => {
        const side = SIDES[i] ?? 'A';
        const on = heard === side;
        const tone = side === 'A' ? look.a : look.b;
        return (
          <Pressable
            key={side}
            role="button"
            aria-pressed={on}
            onPress={() => hear(side)}
            style={[styles.mix, { borderColor: tone, backgroundColor: on ? tone : look.card }]}
          >
            <AppText kind="strong" tone={on ? 'paper' : 'ink'} numberOfLines={2} style={styles.fill}>
              {isPair ? `${side}  ${name}` : name}
            </AppText>
            <AppText kind="small" tone={on ? 'paper' : 'second'}>
              {loudness === null ? 'silent' : `${loudness.toFixed(1).replace('-', '−')} LUFS`}
            </AppText>
          </Pressable>
        );
      })}
      {player ? (
        <View style={styles.row}>
          <Pressable
            role="button"
            aria-label={playing ? 'Pause' : 'Play'}
            onPress={toggle}
            style={[styles.play, { backgroundColor: look.ink }]}
          >
            <Icon of={playing ? Pause : Play} color={look.paper} />
          </Pressable>
          <Waveform
            overview={mix?.overview ?? []}
            place={place / seconds}
            range={null}
            colour={heard === 'A' ? look.a : look.b}
            seconds={seconds}
            onSeek={(to) => void player.seek(to * seconds)}
          />
          <AppText kind="value" testID="client-place">{`${clock(place)} / ${clock(seconds)}`}</AppText>
        </View>
      ) : (
        <AppText style={styles.loading}>Loading the sound …</AppText>
      )}
      <ChipRow>
        {isPair ? (
          <Chip toggle title="As loud as one another" chosen={matched} onPress={() => setMatched(!matched)} />
        ) : null}
        {mayDownload
          ? mixes.map(({ name }, i) => (
              <Action
                key={name}
                kind="small"
                title={isPair ? `Save ${SIDES[i] ?? ''}` : 'Save'}
                onPress={() =>
                  window.location.assign(addressOf(CLIENT_ROUTES.clientFile, { params: { token, mix: String(i) } }))
                }
              />
            ))
          : null}
      </ChipRow>
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  loading: { minHeight: TOUCH, paddingVertical: SPACE.m },
  mix: {
    minHeight: TOUCH + SPACE.m,
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.m,
    paddingHorizontal: SPACE.m,
    borderWidth: 2,
    borderRadius: CORNER.large,
  },
  play: {
    width: TOUCH + SPACE.s,
    height: TOUCH + SPACE.s,
    borderRadius: CORNER.large,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
