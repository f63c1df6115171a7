import { useLocalSearchParams, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { plural } from '@old-echo/core/desk/format-value';

import { toApiFault, useCancelCarryMutation, useCarryingQuery } from '../store/api';
import { Action, Footer } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { LoadError, Loading } from '../components/loading';
import { AppText } from '../ui/app-text';
import { useRunAndNotify } from '../store/use-run-and-notify';

/** How often it is asked how far it is, in ms. */
const ASK = 400;

/** Scenes on their way to another desk; then what came of each strip. */
export function ConversionScreen() {
  const { carrying: id } = useLocalSearchParams<{ carrying: string }>();
  const router = useRouter();
  const done = useRunAndNotify();
  const first = useCarryingQuery(id);
  const running = first.data?.status === 'running';
  useCarryingQuery(id, { pollingInterval: running ? ASK : 0 });
  const [cancel] = useCancelCarryMutation();
  if (first.error) return <LoadError fault={toApiFault(first.error)} onAgain={() => void first.refetch()} />;
  if (!first.data) return <Loading what="Looking how far it is" />;
  const { status, title, total, done: made, why, productionId, sceneId, matches, lines } = first.data;
  const came = matches.filter(({ to }) => to !== null);
  return (
    <View style={styles.fill}>
      <Header
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
        {status === 'cancelled' ? <AppText>Nothing of it was kept.</AppText> : null}
        {status === 'failed' ? (
          <Card edge="stop">
            <AppText>{why}</AppText>
          </Card>
        ) : null}
        {status === 'done' ? (
          <>
            <Card edge="done">
              <AppText testID="carried">
                {plural(came.length, 'strip')} came along, {plural(matches.length - came.length, 'strip')} stayed
                behind; {plural(lines.length, 'thing')} could not come as it was.
              </AppText>
            </Card>
            {matches.map(({ from, fromName, to, toName }) => {
              const own = lines.filter(({ strip }) => strip === to);
              return (
                <View key={from} style={styles.strip}>
                  <AppText kind="strong">
                    {fromName} → {to === null ? 'stayed behind' : toName}
                  </AppText>
                  {own.map(({ what, how, why: reason }, i) => (
                    <AppText key={i} kind="small" tone="second">
                      {what}: {how === 'clamped' ? '' : 'left behind, '}
                      {reason}
                    </AppText>
                  ))}
                </View>
              );
            })}
          </>
        ) : null}
      </Body>
      <Footer>
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
      </Footer>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  strip: { gap: 2, paddingVertical: SPACE.xs },
});
