import { useLocalSearchParams, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { plural } from '@old-echo/core/desk/format-value';

import { faultOf, useCancelCarryMutation, useCarryingQuery } from '../store/api';
import { Action, Foot } from '../ui/buttons';
import { Body, Card, Head } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Failed, Waiting } from '../components/loading';
import { Words } from '../ui/app-text';
import { useDo } from '../store/use-run-and-notify';

/** How often it is asked how far it is, in ms. */
const ASK = 400;

/** Scenes on their way to another desk; then what came of each strip. */
export function CarryingScreen() {
  const { carrying: id } = useLocalSearchParams<{ carrying: string }>();
  const router = useRouter();
  const done = useDo();
  const first = useCarryingQuery(id);
  const running = first.data?.status === 'running';
  useCarryingQuery(id, { pollingInterval: running ? ASK : 0 });
  const [cancel] = useCancelCarryMutation();
  if (first.error) return <Failed fault={faultOf(first.error)} onAgain={() => void first.refetch()} />;
  if (!first.data) return <Waiting what="Looking how far it is" />;
  const { status, title, total, done: made, why, productionId, sceneId, matches, lines } = first.data;
  const came = matches.filter(({ to }) => to !== null);
  return (
    <View style={styles.fill}>
      <Head
        over={title}
        title={
          status === 'running'
            ? `${made} of ${plural(total, 'scene')}`
            : status === 'done'
              ? `${plural(total, 'scene')} carried over`
              : status === 'cancelled'
                ? 'Cancelled'
                : 'It did not work'
        }
        onBack={() => router.navigate('/mixes')}
      />
      <Body tight>
        {status === 'running' ? <ProgressBar progress={total > 0 ? made / total : 0} /> : null}
        {status === 'cancelled' ? <Words>Nothing of it was kept.</Words> : null}
        {status === 'failed' ? (
          <Card edge="stop">
            <Words>{why}</Words>
          </Card>
        ) : null}
        {status === 'done' ? (
          <>
            <Card edge="done">
              <Words testID="carried">
                {plural(came.length, 'strip')} came along, {plural(matches.length - came.length, 'strip')} stayed
                behind; {plural(lines.length, 'thing')} could not come as it was.
              </Words>
            </Card>
            {matches.map(({ from, fromName, to, toName }) => {
              const own = lines.filter(({ strip }) => strip === to);
              return (
                <View key={from} style={styles.strip}>
                  <Words kind="strong">
                    {fromName} → {to === null ? 'stayed behind' : toName}
                  </Words>
                  {own.map(({ what, how, why: reason }, i) => (
                    <Words key={i} kind="small" tone="second">
                      {what}: {how === 'clamped' ? '' : 'left behind, '}
                      {reason}
                    </Words>
                  ))}
                </View>
              );
            })}
          </>
        ) : null}
      </Body>
      <Foot>
        {status === 'running' ? (
          <Action
            grow
            title="Cancel"
            onPress={() => void done(cancel(id), () => 'It stops, and nothing of it stays.')}
          />
        ) : null}
        {status === 'done' ? (
          <>
            <Action
              kind="main"
              grow
              title="Open the last scene"
              onPress={() => router.navigate(`/mixes/${productionId}/scene/${sceneId}`)}
            />
            <Action
              title="Print the report"
              onPress={() => window.open(`/api/carryings/${id}/report.html`, '_blank')}
            />
          </>
        ) : null}
      </Foot>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  strip: { gap: 2, paddingVertical: SPACE.xs },
});
