import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { MAX_PART_LENGTH } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { PART_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { isControl } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { stripsInUse } from '@old-echo/core/desk/strips-in-use';
import { suggestPart } from '@old-echo/core/library/suggest-part';
import { plural } from '@old-echo/core/phrases/format-value';

import { FaultBelow } from '../components/fault-card';
import { KeptDraft } from '../components/kept-draft';
import { Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { useProductionProfile } from '../components/use-production-profile';
import { usePartsQuery, useSetPartsMutation } from '../store/library-api';
import { useSceneStateQuery } from '../store/scenes-api';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card, Empty, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** What each strip of a production carries: how it is found again on another desk and in another venue. */
export function PartsScreen() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Loading what="Loading the parts" />;
  return production ? (
    <Parts production={production} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Parts({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const profile = useProductionProfile(production);
  const newest = production.versions.flatMap(({ newestSceneId }) => newestSceneId ?? [])[0];
  const state = useSceneStateQuery(newest ?? skipToken).data;
  const { data: saved } = usePartsQuery(production.id);
  const draft = useDraft<Record<string, string>>(`parts/${production.id}`, {});
  const typed = draft.values;
  const [set, { isLoading, error }] = useSetPartsMutation();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  if (newest === undefined)
    return (
      <View style={styles.fill}>
        <Header over={production.name} title="Parts" onBack={back} />
        <Empty title="No scene yet">Capture one first: the names of its strips suggest what they carry.</Empty>
      </View>
    );
  if (!profile || !state || !saved) return <Loading what="Reading the strips" />;
  const strips = stripsInUse(profile, state).filter((strip) => !isControl(strip) && !strip.startsWith('main.'));
  const named = (strip: string) => typed[strip] ?? saved[strip] ?? '';
  const parts = Object.fromEntries(
    strips.flatMap((strip) => (named(strip).trim() === '' ? [] : [[strip, named(strip).trim()]])),
  );
  const holders = new Map<string, string[]>();
  for (const [strip, part] of Object.entries(parts)) holders.set(part, [...(holders.get(part) ?? []), strip]);
  const shared = [...holders].filter(([, own]) => own.length > 1).map(([part]) => part);
  const save = (share: readonly string[]) =>
    void done(set({ production: production.id, parts, shared: share }), (now) => {
      draft.forget();
      return `Parts saved for ${plural(Object.keys(now).length, 'strip')}.`;
    });
  const suggest = () =>
    draft.set(
      Object.fromEntries(
        strips.map((strip) => [
          strip,
          named(strip) || suggestPart(displayName(profile, state, strip)).slice(0, MAX_PART_LENGTH),
        ]),
      ),
    );
  return (
    <View style={styles.fill}>
      <Header
        over={production.name}
        title="Parts"
        onBack={back}
        side={<Action asks={PART_ROUTES.setParts} kind="quiet" title="Fill in suggestions" onPress={suggest} />}
      />
      <Body tight>
        <AppText tone="second">
          What each strip carries (lead voice, fiddle): how scenes find their strips on another desk and in each venue.
        </AppText>
        <KeptDraft draft={draft} />
        {shared.length > 0 ? (
          <Card edge="care">
            <AppText testID="shared">
              {shared.join(', ')} {shared.length === 1 ? 'is' : 'are'} on more than one strip. Two microphones on one
              instrument may share a part.
            </AppText>
          </Card>
        ) : null}
        {strips.map((strip) => (
          <View key={strip} style={styles.row}>
            <View style={styles.fill}>
              <AppText kind="strong" numberOfLines={1}>
                {displayName(profile, state, strip)}
              </AppText>
              <AppText kind="small" tone="second">
                {profile.plainNames[strip]}
              </AppText>
            </View>
            <View style={styles.field}>
              <Field
                label={`Part of ${displayName(profile, state, strip)}`}
                value={named(strip)}
                placeholder={suggestPart(displayName(profile, state, strip))}
                maxLength={MAX_PART_LENGTH}
                onChangeText={(part) => draft.set({ [strip]: part })}
              />
            </View>
          </View>
        ))}
      </Body>
      <FaultBelow error={error} />
      <MainAction
        asks={PART_ROUTES.setParts}
        busy={isLoading}
        title={shared.length > 0 ? 'Save as shared' : 'Save parts'}
        disabled={Object.keys(typed).length === 0 && 'Nothing has changed.'}
        onPress={() => save(shared)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: 64 },
  field: { flex: 1.2 },
});
