import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import type { RestoreReport, RestoreView } from '@old-echo/core/contracts/restore';
import { specAt } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';
import { fullSettingName, plural, showValue } from '@old-echo/core/desk/wording';
import { readAddress } from '@old-echo/core/desk/address';

import { useDesk, type DeskNow } from '../../live/use-desk';
import { faultOf, useRestoreChangesQuery, useRestoreQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { Action, Foot } from '../../ui/actions';
import { Body, Card, Head } from '../../ui/page';
import { READING, SPACE } from '../../ui/tokens';
import { Failed, Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
import { useKeys } from '../shell/use-keys';
import { ChangeList } from '../strip/change-list';
import { wayBackHref } from './use-way-back';

const STAGES = [
  ['guard', 'Close what would thump'],
  ['patch', 'Patch and power'],
  ['process', 'Processing'],
  ['level', 'Levels'],
  ['release', 'Open'],
  ['verify', 'Read everything back'],
] as const;

/** A restore at work, and then what became of it. */
export function RestoreScreen() {
  const { restore: id } = useLocalSearchParams<{ restore: string }>();
  const live = useAppSelector((root) => root.live.restore);
  // Asked now and then as well as told: the channel may have been away when it ended.
  const [running, setRunning] = useState(true);
  const { data, error, refetch } = useRestoreQuery(id, { pollingInterval: running ? 3000 : 0 });
  const ended = data !== undefined && data.status !== 'running';
  if (running === ended) setRunning(!ended);
  const now = useDesk();
  // The channel is quicker than the question, but only the stored one is known to have ended.
  const restore = ended ? data : live?.id === id ? live : data;
  if (error && !restore) return <Failed fault={faultOf(error)} onAgain={() => void refetch()} />;
  if (!restore || !now) return <Waiting what="Looking at the restore" />;
  return restore.status === 'running' ? <AtWork restore={restore} /> : <Ended restore={restore} now={now} />;
}

function AtWork({ restore }: { readonly restore: RestoreView }) {
  const { progress } = restore;
  const at = STAGES.findIndex(([stage]) => stage === progress?.stage);
  return (
    <View style={styles.fill}>
      <Head over={`Restoring ${restore.sceneNumber} ${restore.sceneName}`} title={plural(restore.changes, 'setting')} />
      <Body>
        <View style={styles.column} accessibilityLiveRegion="polite">
          {STAGES.map(([stage, name], i) => (
            <View key={stage} style={styles.stage}>
              <Words kind="value" tone={i < at ? 'done' : 'second'} style={styles.mark}>
                {i < at ? '✓' : i === at ? '●' : '○'}
              </Words>
              <Words kind={i === at ? 'strong' : 'body'} tone={i > at ? 'second' : 'ink'} style={styles.fill}>
                {name}
              </Words>
              {i === at && progress ? (
                <Words kind="value">
                  {progress.done} of {progress.total}
                </Words>
              ) : null}
            </View>
          ))}
          <ProgressBar progress={progress && progress.total > 0 ? progress.done / progress.total : 0} />
        </View>
      </Body>
    </View>
  );
}

function Ended({ restore, now }: { readonly restore: RestoreView; readonly now: DeskNow }) {
  const router = useRouter();
  const toDesk = () => router.navigate(`/desk/${restore.deskId}`);
  useKeys({ Escape: toDesk, w: () => router.navigate(wayBackHref(restore)) });
  const { report } = restore;
  const confirmed = restore.status === 'confirmed';
  const again =
    `/restore/${restore.sceneId}/preview?scope=${encodeURIComponent(JSON.stringify(restore.scope))}` as const;
  return (
    <View style={styles.fill}>
      <Head
        over={`Restore of ${restore.sceneNumber} ${restore.sceneName}`}
        title={
          confirmed
            ? `Restored ${plural(restore.changes, 'setting')}. All confirmed.`
            : `${plural(report?.confirmed ?? 0, 'setting')} of ${restore.changes} confirmed`
        }
      />
      <Body>
        <View style={styles.column} role="status" testID={`restore-${restore.status}`}>
          {confirmed ? (
            <Card edge="done">
              <Words kind="strong">Every setting was read back from the desk.</Words>
              <Words tone="second">It took {report ? seconds(report.milliseconds) : ''}. The way back is kept.</Words>
            </Card>
          ) : (
            <Incomplete restore={restore} />
          )}
          {report ? <Report report={report} now={now} /> : null}
          <CameBack restore={restore} now={now} />
        </View>
      </Body>
      <Foot>
        <Action kind="main" grow title="Done" onPress={toDesk} />
        {confirmed ? null : (
          <Action title="Try the rest" disabled={!now.linked} onPress={() => router.navigate(again)} />
        )}
        <Action title="Way back" disabled={!now.linked} onPress={() => router.navigate(wayBackHref(restore))} />
      </Foot>
    </View>
  );
}

/** What was confirmed, setting by setting. */
function CameBack({ restore, now }: { readonly restore: RestoreView; readonly now: DeskNow }) {
  const { data: changes = [] } = useRestoreChangesQuery(restore.id);
  const failed = new Set(restore.report?.unconfirmed.map((failure) => failure.address));
  const confirmed = restore.report ? changes.filter((change) => !failed.has(change.address)) : [];
  if (confirmed.length === 0) return null;
  return (
    <>
      <Words kind="heading">What came back</Words>
      <ChangeList
        profile={now.profile}
        names={now.state}
        changes={confirmed.map(({ address, strip, from, to }) => ({ address, strip, was: from, now: to }))}
      />
    </>
  );
}

const seconds = (ms: number): string => (ms < 1000 ? `${ms} ms` : `${(ms / 1000).toFixed(1)} s`);

function Incomplete({ restore }: { readonly restore: RestoreView }) {
  const why =
    restore.status === 'interrupted'
      ? 'Old Echo stopped in the middle of this restore. What it had sent by then is not known.'
      : 'Not everything stands where the preview put it; below is what does not, and why.';
  return (
    <Card edge="stop">
      <Words kind="strong">{why}</Words>
      <Words tone="second">Try the rest to finish, or take the way back: it leads to where the desk was before.</Words>
    </Card>
  );
}

function Report({ report, now }: { readonly report: RestoreReport; readonly now: DeskNow }) {
  const { profile, state } = now;
  return (
    <>
      {report.leftMuted.length > 0 ? (
        <Card edge="stop">
          <Words kind="strong">Still muted: {report.leftMuted.join(', ')}</Words>
          <Words tone="second">Muted for the restore and not opened again. Open by hand, or take the way back.</Words>
        </Card>
      ) : null}
      {report.handled.length > 0 ? (
        <Card edge="care">
          <Words kind="strong">Left to the hand on the desk: {report.handled.join(', ')}</Words>
          <Words tone="second">
            Someone moved these strips during the restore, so they were left alone from then on.
          </Words>
        </Card>
      ) : null}
      {report.unconfirmed.length > 0 ? (
        <Card>
          {report.unconfirmed.slice(0, 200).map(({ address, wanted, found, why }) => {
            const spec = specAt(profile, address);
            const strip = readAddress(address)?.strip ?? '';
            const show = (value: typeof found) => (spec && value !== null ? showValue(spec, value) : 'not known');
            return (
              <View key={address} style={styles.failure}>
                <Words kind="strong">
                  {stripName(profile, state, strip)} · {fullSettingName(profile, address, state)}
                </Words>
                <Words kind="value" tone="second">
                  wanted {show(wanted)}, last heard {show(found)}
                </Words>
                <Words kind="small" tone="second">
                  {why}
                </Words>
              </View>
            );
          })}
          {report.unconfirmed.length > 200 ? (
            <Words tone="second">and {report.unconfirmed.length - 200} more</Words>
          ) : null}
        </Card>
      ) : null}
    </>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: READING, width: '100%', alignSelf: 'center' },
  stage: { flexDirection: 'row', alignItems: 'center', minHeight: 32 },
  mark: { width: 32 },
  failure: { paddingVertical: SPACE.xs },
});
