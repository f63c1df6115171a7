import { useLocalSearchParams, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { CONVERSION_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { JobProgress } from '../components/job-progress';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { addressOf } from '../store/ask';
import { useCancelConversionMutation, useConversionQuery } from '../store/library-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** How often it is asked how far it is, in ms. */
const ASK = 400;

/** Scenes on their way to another desk; then what came of each strip. */
export function ConversionScreen() {
  const { conversion: id } = useLocalSearchParams<{ conversion: string }>();
  const router = useRouter();
  const done = useRunAndNotify();
  const first = useConversionQuery(id);
  const running = first.data?.status === 'running';
  useConversionQuery(id, { pollingInterval: running ? ASK : 0 });
  const [cancel] = useCancelConversionMutation();
  if (first.error) return <LoadError fault={toApiFault(first.error)} onAgain={() => void first.refetch()} />;
  if (!first.data) return <Loading what="Loading the carry-over" />;
  const { status, title, total, why, productionId, sceneId, matches, lines } = first.data;
  const came = matches.filter(({ to }) => to !== null);
  return (
    <View style={styles.fill}>
      <Header
        over={title}
        title={
          status === 'running'
            ? 'Carry-over running'
            : status === 'done'
              ? `${plural(total, 'scene')} carried over`
              : status === 'cancelled'
                ? 'Cancelled'
                : 'Carry-over failed'
        }
        onBack={() => router.navigate('/mixes')}
      />
      <Body tight>
        {status === 'running' ? <JobProgress job={first.data} of="scene" /> : null}
        {status === 'cancelled' ? <AppText>Nothing was saved.</AppText> : null}
        {status === 'failed' ? (
          <Card edge="stop">
            <AppText>{why}</AppText>
          </Card>
        ) : null}
        {status === 'done' ? (
          <>
            <Card edge="done">
              <AppText testID="carried">
                {plural(came.length, 'strip')} carried over, {matches.length - came.length} left behind;{' '}
                {plural(lines.length, 'setting')} changed or left behind.
              </AppText>
            </Card>
            {matches.map(({ from, fromName, to, toName }) => {
              const own = lines.filter(({ strip }) => strip === to);
              return (
                <View key={from} style={styles.strip}>
                  <AppText kind="strong">
                    {fromName} → {to === null ? 'left behind' : toName}
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
          <Action grow title="Cancel" onPress={() => void done(cancel(id), () => 'Cancelling. Nothing is saved.')} />
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
              onPress={() => window.open(addressOf(CONVERSION_ROUTES.conversionReport, { params: { id } }), '_blank')}
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
