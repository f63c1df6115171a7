import { skipToken } from '@reduxjs/toolkit/query';
import { Redirect, useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import {
  type CancelAction,
  type Recall,
  restoredName,
  type RestoreStatus,
  type RestoreView,
} from '@old-echo/core/contracts/restore';
import { DESK_RECALL_ROUTES, RESTORE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { specOf } from '@old-echo/core/desk/profile';
import { sameValue } from '@old-echo/core/desk/setting';
import { displayName, valueAt } from '@old-echo/core/desk/state';
import { describeConfirmation } from '@old-echo/core/phrases/describe-confirmation';
import { sentenceOfScene } from '@old-echo/core/phrases/describe-scope';
import { countStrips, formatValue, fullSettingName, joinWithAnd, plural } from '@old-echo/core/phrases/format-value';
import { plainText } from '@old-echo/core/phrases/phrase';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';

import { ChangeList } from '../components/change-list';
import { when } from '../components/format-time';
import { Loading } from '../components/loading';
import { wayBackHref } from '../components/use-way-back';
import { deskHref } from '../store/desk-address';
import { useCancelRestoreMutation, useJournalQuery, useRestoreQuery } from '../store/recall-api';
import { useSceneStateQuery } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { type LiveDesk, useLiveDesk, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Footer, MainAction } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { Report } from './restore-report';
import { RestoreWalk } from './restore-walk';

const STAGES = [
  ['guard', 'Mute what could thump'],
  ['patch', 'Patch and phantom'],
  ['process', 'Processing'],
  ['level', 'Levels'],
  ['release', 'Unmute'],
  ['verify', 'Read everything back'],
] as const;

/** A restore at work, and then what became of it. */
export function RestoreScreen() {
  const { desk: deskId, restore: id } = useLocalSearchParams<{ desk: string; restore: string }>();
  const live = useAppSelector((root) => root.live.restore);
  // Asked now and then as well as told: the channel may have been away when it ended.
  const [running, setRunning] = useState(true);
  const { data } = useRestoreQuery(id, { pollingInterval: running ? 3000 : 0 });
  const ended = data !== undefined && data.status !== 'running' && data.status !== 'walk';
  if (running === ended) setRunning(!ended);
  const now = useLiveDesk();
  // The channel is quicker than the question, but only the stored one is known to have ended.
  const restore = ended || data?.status === 'walk' ? data : live?.id === id ? live : data;
  if (restore && deskId !== restore.deskId) return <Redirect href={deskHref(restore.deskId, `restores/${id}`)} />;
  if (!restore || !now) return <Loading what="Loading the restore" />;
  if (restore.status === 'walk') return <RestoreWalk restore={restore} now={now} />;
  return restore.status === 'running' ? (
    <RestoreProgress restore={restore} now={now} />
  ) : (
    <RestoreResult restore={restore} now={now} />
  );
}

function RestoreProgress({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const { progress, fade } = restore;
  const done = useRunAndNotify();
  const [cancel] = useCancelRestoreMutation();
  const at = STAGES.findIndex(([stage]) => stage === progress?.stage);
  const ask = (how: CancelAction) =>
    void done(cancel({ id: restore.id, how }), () =>
      how === 'stop' ? 'Stopped. The desk stays as it is now.' : 'Rolling back to where the desk was.',
    );
  const asked = progress?.cancel ?? null;
  useShortcuts({ Escape: () => ask('stop') });
  return (
    <View style={styles.fill}>
      <Header
        over={`${progress?.back ? 'Rolling back' : 'Restoring'} ${restoredName(restore)} · ${now.desk.name}`}
        title={plural(restore.changes, 'setting')}
        under={restore.by ? `by ${restore.by}` : undefined}
      />
      <Body>
        <View style={styles.column} accessibilityLiveRegion="polite">
          {STAGES.map(([stage, name], i) => (
            <View key={stage} style={styles.stage}>
              <AppText kind="value" tone={i < at ? 'done' : 'second'} style={styles.mark}>
                {i < at ? '✓' : i === at ? '●' : '○'}
              </AppText>
              <AppText kind={i === at ? 'strong' : 'body'} tone={i > at ? 'second' : 'ink'} style={styles.fill}>
                {name}
              </AppText>
              {i === at && progress ? (
                <AppText kind="value">
                  {progress.done} of {progress.total}
                </AppText>
              ) : null}
            </View>
          ))}
          <View style={styles.bar}>
            <ProgressBar
              accessibilityLabel="Progress of the restore"
              progress={progress && progress.total > 0 ? progress.done / progress.total : 0}
            />
          </View>
          <AppText tone={asked ? 'care' : 'second'}>
            {asked === 'stop'
              ? 'Stopped. Reading back every setting.'
              : asked
                ? 'Rolling back to where the desk was.'
                : 'Stop: the desk stays as it is at that moment. Roll back: return the desk to where it was.'}
          </AppText>
          <Moving restore={restore} now={now} />
        </View>
      </Body>
      <MainAction
        asks={RESTORE_ROUTES.cancelRestore}
        title="Stop"
        disabled={asked !== null && 'It is ending already.'}
        onPress={() => ask('stop')}
      />
      <Footer>
        {fade > 0 ? (
          <Action
            asks={RESTORE_ROUTES.cancelRestore}
            grow
            title="Roll back as a fade"
            disabled={(asked === 'roll back' || asked === 'roll back at once') && 'It is rolling back already.'}
            onPress={() => ask('roll back')}
          />
        ) : null}
        <Action
          asks={RESTORE_ROUTES.cancelRestore}
          grow
          title="Roll back at once"
          disabled={asked === 'roll back at once' && 'It is rolling back already.'}
          onPress={() => ask('roll back at once')}
        />
      </Footer>
    </View>
  );
}

/** At most so many strips are shown while they move; the rest is counted. */
const MAX_MOVING = 40;

/** Every level that a restore moves, where it is at this moment and where it goes, strip by strip. */
function Moving({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const { profile, state } = now;
  const changes = useJournalQuery(restore.id).data?.changes ?? [];
  const levels = changes.filter(({ key }) => key === 'fader/level' || /^sends\/[^/]+\/level$/.test(key));
  const back = restore.progress?.back === true;
  return (
    <View testID="moving">
      {levels.slice(0, MAX_MOVING).map(({ address, strip, key, from, to }) => {
        const spec = specOf(profile, address);
        const at = valueAt(state, address);
        const end = back ? from : to;
        const there = spec && sameValue(spec, at, end);
        return spec ? (
          <View key={address} style={styles.stage}>
            <AppText numberOfLines={1} tone={there ? 'done' : 'ink'} style={styles.fill}>
              {displayName(profile, state, strip)}
              {key === 'fader/level' ? '' : ` · ${fullSettingName(profile, address, state)}`}
            </AppText>
            <AppText kind="value" tone={there ? 'done' : 'ink'}>
              {there ? formatValue(spec, at) : `${formatValue(spec, at, false)} → ${formatValue(spec, end)}`}
            </AppText>
          </View>
        ) : null;
      })}
      {levels.length > MAX_MOVING ? (
        <AppText tone="second">and {plural(levels.length - MAX_MOVING, 'level')} more</AppText>
      ) : null}
    </View>
  );
}

const ENDS: Readonly<Record<Exclude<RestoreStatus, 'running' | 'walk' | 'confirmed'>, string>> = {
  incomplete: 'Some settings are not as previewed. They are listed below, with the reason.',
  cancelled: 'Stopped. Every setting stays where it was at that moment. The rest is listed below.',
  'rolled back': 'Rolled back. Every setting was read back as it was before.',
  interrupted: 'Old Echo stopped during this restore. The journal holds every value before and after.',
};

function RestoreResult({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const router = useRouter();
  const toDesk = () => router.navigate(`/desk/${restore.deskId}`);
  const wayBack = wayBackHref(restore);
  useShortcuts({ Escape: toDesk, w: () => wayBack && router.navigate(wayBack) });
  const { report, status } = restore;
  const confirmed = status === 'confirmed';
  const unasked = report?.unasked?.length ?? 0;
  const byHand = report?.byHand?.length ?? 0;
  const resume = (how: 'finish' | 'roll back') =>
    router.navigate(deskHref(restore.deskId, `restores/${restore.id}/resume?how=${encodeURIComponent(how)}`));
  return (
    <View style={styles.fill}>
      <Header
        over={`${whatItWas(restore)} · ${now.desk.name}`}
        title={
          confirmed
            ? `${doneOf(restore.recall)} ${plural(restore.changes, 'setting')}. ${describeConfirmation(restore)}.`
            : status === 'rolled back'
              ? `Rolled back. ${describeConfirmation(restore)}.`
              : status === 'interrupted'
                ? 'Interrupted'
                : `${(report?.confirmed ?? 0) + byHand} of ${plural(restore.changes, 'setting')} ${byHand > 0 ? 'done' : 'confirmed'}`
        }
      />
      <Body>
        <View style={styles.column} role="status" testID={`restore-${status.replace(' ', '-')}`}>
          {status === 'confirmed' || status === 'running' || status === 'walk' ? (
            <Card edge="done">
              <AppText kind="strong">
                {report?.confirmed === 0 && byHand > 0
                  ? 'Every setting was set by hand.'
                  : unasked + byHand === 0
                    ? 'Every setting was read back from the desk.'
                    : 'Every setting that this desk can be asked for was read back.'}
              </AppText>
              <AppText tone="second">
                {report && report.confirmed > 0 ? `It took ${seconds(report.milliseconds)}. ` : ''}The way back is
                saved.
              </AppText>
            </Card>
          ) : (
            <Card edge={status === 'rolled back' ? 'done' : 'stop'}>
              <AppText kind="strong">{ENDS[status]}</AppText>
              {status === 'rolled back' ? null : (
                <AppText tone="second">Finish it or roll it back. Both show a preview first.</AppText>
              )}
            </Card>
          )}
          {report ? <Report report={report} now={now} /> : null}
          <About restore={restore} now={now} />
          <ConfirmedChanges restore={restore} now={now} />
        </View>
      </Body>
      <Footer>
        <Action kind="main" grow title="Done" onPress={toDesk} />
        {confirmed || status === 'rolled back' ? (
          <Action
            asks={DESK_RECALL_ROUTES.startRestore}
            title="Way back"
            disabled={whyNotLinked(now) || (!wayBack && 'There is nothing to go back to.')}
            onPress={() => wayBack && router.navigate(wayBack)}
          />
        ) : (
          <>
            <Action
              asks={DESK_RECALL_ROUTES.startRestore}
              title="Finish"
              disabled={whyNotLinked(now)}
              onPress={() => resume('finish')}
            />
            <Action
              asks={DESK_RECALL_ROUTES.startRestore}
              title="Roll back"
              disabled={whyNotLinked(now)}
              onPress={() => resume('roll back')}
            />
          </>
        )}
      </Footer>
    </View>
  );
}

/** "Restore of 14 Static balance", "Preset Bright voice", "Put back to 14 Static balance". */
function whatItWas(restore: RestoreView): string {
  const { resume, stagedSettingsId, baseline } = restore.recall;
  if (resume) return `${resume.how === 'finish' ? 'Finishing' : 'Rolling back'}: ${restoredName(restore)}`;
  if (stagedSettingsId) return restoredName(restore);
  return baseline ? `Put back to ${restoredName(restore)}` : `Restore of ${restoredName(restore)}`;
}

const doneOf = ({ stagedSettingsId, baseline }: Recall): string =>
  stagedSettingsId ? 'Applied' : baseline ? 'Put back' : 'Restored';

/** Who, when, how slowly, and which cautions were answered how: the log's own words about a restore. */
function About({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const { answered, by, fade, startedAt, recall } = restore;
  const name = (strip: string) => displayName(now.profile, now.state, strip);
  const changes = useJournalQuery(restore.id).data?.changes;
  const state = useSceneStateQuery(recall.sceneId ?? skipToken).data;
  // Only a scene that comes back to where it was has a scope of its own; anything else is what moved.
  const asked =
    state && recall.onto.length === 0
      ? plainText(sentenceOfScene(now.profile, recall.scope, state, [], now.state))
      : undefined;
  const told = [by ? `by ${by}` : '', when(startedAt), fade > 0 ? `faded over ${fade} s` : ''].filter(Boolean);
  return (
    <View style={styles.about}>
      <AppText tone="second">{told.join(' · ')}</AppText>
      <AppText kind="small" tone="second" testID="what-moved">
        {changes ? movedWords(now, changes) : 'Loading what was sent …'}
        {recall.relativeTo ? ' Only the change since another scene.' : ''}
        {recall.onto.map(({ from, to }) => ` ${name(from)} → ${joinWithAnd(to.map(name))}.`).join('')}
      </AppText>
      {asked ? (
        <AppText kind="small" tone="second">
          Asked for: {asked}
        </AppText>
      ) : null}
      {answered.map(({ title, way, weight }) => (
        <AppText key={title} kind="small" tone="second">
          {weight === 'stop' ? 'Stop' : 'Caution'}: {title}. {WAYS[way]}
        </AppText>
      ))}
    </View>
  );
}

const WAYS = { fade: 'Faded.', checked: 'Checked.', 'accepted before': 'Accepted before.' } as const;

/** "12 settings on Fiddle and Shaker." */
function movedWords({ profile, state }: LiveDesk, changes: readonly PlannedChange[]): string {
  const strips = [...new Set(changes.map(({ strip }) => strip))];
  if (strips.length === 0) return 'Nothing had to be sent.';
  const where =
    strips.length <= 3 ? joinWithAnd(strips.map((strip) => displayName(profile, state, strip))) : countStrips(strips);
  return `${plural(changes.length, 'setting')} on ${where}.`;
}

/** What was confirmed, setting by setting. */
function ConfirmedChanges({ restore, now }: { readonly restore: RestoreView; readonly now: LiveDesk }) {
  const changes = useJournalQuery(restore.id).data?.changes ?? [];
  const failed = new Set(restore.report?.unconfirmed.map((failure) => failure.address));
  const confirmed =
    restore.report && restore.status !== 'rolled back' ? changes.filter((change) => !failed.has(change.address)) : [];
  if (confirmed.length === 0) return null;
  return (
    <>
      <AppText kind="heading">Restored settings</AppText>
      <ChangeList
        profile={now.profile}
        names={now.state}
        changes={confirmed.map(({ address, strip, from, to }) => ({ address, strip, was: from, now: to }))}
      />
    </>
  );
}

const seconds = (ms: number): string => (ms < 1000 ? `${ms} ms` : `${(ms / 1000).toFixed(1)} s`);

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  stage: { flexDirection: 'row', alignItems: 'center', minHeight: 32 },
  mark: { width: 32 },
  bar: { height: SPACE.xs },
  about: { gap: SPACE.xs },
});
