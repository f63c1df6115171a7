import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { restoredName, type RestoreView } from '@old-echo/core/contracts/restore';
import { RESTORE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { specOf } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, plural } from '@old-echo/core/phrases/format-value';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';
import { nextOpenStop, type WalkItem, type WalkMark, type WalkStop, walkStops } from '@old-echo/core/recall/walk';

import { Loading } from '../components/loading';
import { faultLine } from '../store/api';
import { noticed } from '../store/notice-slice';
import { useEndWalkMutation, useJournalQuery, useMarkWalkMutation } from '../store/recall-api';
import { useAppDispatch } from '../store/store';
import { type LiveDesk, whyLocked } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { useLook } from '../ui/theme';
import { CORNER, MAX_TEXT_WIDTH, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { Report } from './restore-report';

const ROUNDS = {
  close: 'First: mute, and bring down',
  set: 'Strip by strip',
  open: 'Last: unmute',
} as const;

/** What of a restore is set by hand, strip after strip: a person turns, and says so. It can be left and gone on with anywhere. */
export function RestoreWalk({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const journal = useJournalQuery(restore.id).data;
  const stops = useMemo(() => (journal ? walkStops(now.profile, journal) : []), [now.profile, journal]);
  const marks = restore.marks ?? {};
  // Where one is, once one has gone on oneself; before that, where the walk was left.
  const [chosen, setChosen] = useState<number | null>(null);
  const [mark, marking] = useMarkWalkMutation();
  const [end, ending] = useEndWalkMutation();
  const open = nextOpenStop(stops, marks);
  const at = chosen ?? (open ? stops.indexOf(open) : stops.length);
  const stop = stops[at];
  const items = stops.flatMap((one) => one.items);
  const countOf = (as: WalkMark) => items.filter(({ id }) => marks[id] === as).length;
  const [set, couldNot] = [countOf('set'), countOf('could not')];
  const told = `${set} of ${plural(items.length, 'setting')} set${couldNot > 0 ? `, ${couldNot} could not be` : ''}`;
  const following = stops[at + 1];
  const whyNot = whyLocked(now.desk);
  const say = async (ids: readonly string[], as: WalkMark | null) => {
    // Who has said something goes on when they are ready; who only looks follows along.
    setChosen(at);
    if (ids.length === 0) return true;
    const { error } = await mark({ id: restore.id, marks: Object.fromEntries(ids.map((id) => [id, as])) });
    if (error) dispatch(noticed(faultLine(error)));
    return error === undefined;
  };
  const left = stop?.items.filter(({ id }) => marks[id] === undefined) ?? [];
  const next = () => setChosen(at + 1);
  const allSet = async () => {
    if (
      await say(
        left.map(({ id }) => id),
        'set',
      )
    )
      next();
  };
  const close = async () => {
    const { error } = await end(restore.id);
    if (error) dispatch(noticed(faultLine(error)));
  };
  const back = () => router.navigate(`/desk/${restore.deskId}`);
  useShortcuts({
    n: () => stop && !whyNot && void allSet(),
    ArrowRight: () => stop && next(),
    ArrowLeft: () => at > 0 && setChosen(at - 1),
  });
  if (!journal) return <Loading what="Loading the walk" />;
  return (
    <View style={styles.fill}>
      <Header
        over={`Set by hand · ${restoredName(restore)} · ${now.desk.name}`}
        title={stop ? displayName(now.profile, now.state, stop.strip) : 'The end of the walk'}
        under={told}
        onBack={back}
      />
      <View style={styles.bar}>
        <ProgressBar
          accessibilityLabel="Progress of the walk"
          progress={items.length > 0 ? (set + couldNot) / items.length : 1}
        />
      </View>
      <Body>
        <View style={styles.column} testID="walk">
          {restore.report && at === 0 ? <Wired restore={restore} now={now} /> : null}
          {stop ? (
            <>
              <AppText tone="second">
                {ROUNDS[stop.round]} · stop {at + 1} of {stops.length}
                {displayName(now.profile, now.state, stop.strip) === now.profile.plainNames[stop.strip]
                  ? ''
                  : ` · ${now.profile.plainNames[stop.strip] ?? ''}`}
              </AppText>
              {stop.items.map((item) => (
                <Item
                  key={item.id}
                  item={item}
                  now={now}
                  mark={marks[item.id]}
                  disabled={whyNot !== false}
                  onMark={(as) => void say([item.id], as)}
                />
              ))}
              {following ? (
                <AppText tone="second">
                  Then {displayName(now.profile, now.state, following.strip)},{' '}
                  {plural(following.items.length, 'setting')}
                </AppText>
              ) : null}
            </>
          ) : (
            <Summary now={now} stops={stops} marks={marks} onGo={(to) => setChosen(stops.indexOf(to))} />
          )}
        </View>
      </Body>
      <Footer>
        <Action title="‹" disabled={at === 0 && 'This is the first stop.'} onPress={() => setChosen(at - 1)} />
        {stop ? (
          <>
            <Action
              asks={RESTORE_ROUTES.markWalk}
              kind="main"
              grow
              title={
                left.length === 0 ? 'Next' : left.length === stop.items.length ? 'All set, next' : 'Rest set, next'
              }
              busy={marking.isLoading && left.length > 0}
              disabled={whyNot}
              onPress={() => void allSet()}
            />
            <Action
              title={left.length > 0 ? 'Skip' : 'To the end'}
              onPress={() => (left.length > 0 ? next() : setChosen(stops.length))}
            />
          </>
        ) : (
          <Action
            asks={RESTORE_ROUTES.endWalk}
            kind="main"
            grow
            title="End the walk"
            busy={ending.isLoading}
            onPress={() => void close()}
          />
        )}
      </Footer>
    </View>
  );
}

/** What was done before the walk began. */
function Wired({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const { report } = restore;
  if (!report || report.confirmed + report.unconfirmed.length === 0) return null;
  return (
    <>
      <Card edge={report.unconfirmed.length > 0 ? 'stop' : 'done'}>
        <AppText kind="strong">{plural(report.confirmed, 'setting')} confirmed over the wire</AppText>
        <AppText tone="second">What follows is turned by hand.</AppText>
      </Card>
      <Report report={report} now={now} />
    </>
  );
}

interface ItemProps {
  readonly item: WalkItem;
  readonly now: LiveDesk;
  readonly mark: WalkMark | undefined;
  readonly disabled: boolean;
  readonly onMark: (as: WalkMark | null) => void;
}

/** One setting: where it stands and where it goes, to be read at arm's length; a touch says that it is set. */
function Item({ item: { change }, now, mark, disabled, onMark }: ItemProps) {
  const look = useLook();
  const name = fullSettingName(now.profile, change.address, now.state);
  const isSet = mark === 'set';
  return (
    <View
      style={[
        styles.item,
        { backgroundColor: look.card, borderColor: isSet ? look.done : mark ? look.stop : look.line },
      ]}
    >
      <Pressable
        role="checkbox"
        aria-checked={isSet}
        aria-label={`${name} set to ${valueOf(now, change, 'to')}`}
        disabled={disabled}
        onPress={() => onMark(isSet ? null : 'set')}
        style={styles.fill}
      >
        <AppText kind="strong" tone="second">
          {isSet ? '✓ ' : ''}
          {name}
        </AppText>
        <AppText kind="figure" tone={isSet ? 'done' : 'ink'}>
          <AppText kind="figure" tone="second">
            {valueOf(now, change, 'from')}
            {' → '}
          </AppText>
          {valueOf(now, change, 'to')}
        </AppText>
      </Pressable>
      <Pressable
        role="checkbox"
        aria-checked={mark === 'could not'}
        aria-label={`${name} could not be set`}
        disabled={disabled}
        onPress={() => onMark(mark === 'could not' ? null : 'could not')}
        style={styles.couldNot}
      >
        <AppText kind="small" tone={mark === 'could not' ? 'stop' : 'second'}>
          {mark === 'could not' ? '✕ could not' : 'could not'}
        </AppText>
      </Pressable>
    </View>
  );
}

const valueOf = ({ profile }: LiveDesk, change: PlannedChange, end: 'from' | 'to'): string => {
  const spec = specOf(profile, change.address);
  return spec ? formatValue(spec, change[end], end === 'to') : '';
};

interface SummaryProps {
  readonly now: LiveDesk;
  readonly stops: readonly WalkStop[];
  readonly marks: Readonly<Record<string, WalkMark>>;
  readonly onGo: (stop: WalkStop) => void;
}

/** What was done, and what was not: a touch leads back there. */
function Summary({ now, stops, marks, onGo }: SummaryProps) {
  const of = (as: WalkMark | undefined) =>
    stops.flatMap((stop) => {
      const count = stop.items.filter(({ id }) => marks[id] === as).length;
      return count > 0 ? [{ stop, count }] : [];
    });
  const lots = [
    ['Skipped', 'care', of(undefined)],
    ['Could not be set', 'stop', of('could not')],
  ] as const;
  const isAll = lots.every(([, , left]) => left.length === 0);
  return (
    <>
      <Card edge={isAll ? 'done' : 'care'}>
        <AppText kind="strong">{isAll ? 'Everything is set.' : 'Not everything is set.'}</AppText>
        <AppText tone="second">
          {isAll
            ? 'End the walk: the desk stands on the scene then.'
            : 'Go back to what is left, or end the walk: the report names it, and it can be finished later.'}
        </AppText>
      </Card>
      {lots.map(([title, edge, left]) =>
        left.length > 0 ? (
          <Card key={title} edge={edge}>
            <AppText kind="strong">{title}</AppText>
            {left.map(({ stop, count }) => (
              <Action
                asks={RESTORE_ROUTES.markWalk}
                key={`${stop.round}/${stop.strip}`}
                kind="quiet"
                title={`${displayName(now.profile, now.state, stop.strip)} · ${plural(count, 'setting')}`}
                onPress={() => onGo(stop)}
              />
            ))}
          </Card>
        ) : null,
      )}
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  bar: { height: SPACE.xs },
  column: { gap: SPACE.s, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  item: {
    flexDirection: 'row',
    borderWidth: 1,
    borderRadius: CORNER.small,
    paddingLeft: SPACE.m,
    paddingVertical: SPACE.s,
  },
  couldNot: { width: 84, minHeight: TOUCH, alignItems: 'center', justifyContent: 'center' },
});
