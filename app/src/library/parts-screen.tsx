import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { inUse } from '@old-echo/core/desk/strips-in-use';
import { suggestPart } from '@old-echo/core/library/suggest-part';
import { LONGEST_PART } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { isControl } from '@old-echo/core/desk/profile';
import { stripName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/desk/format-value';

import { faultOf, usePartsQuery, useSceneStateQuery, useSetPartsMutation } from '../store/api';
import { Action, Foot } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card, Empty, Head } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { Waiting } from '../components/loading';
import { Words } from '../ui/app-text';
import { useProduction } from '../components/use-production';
import { useDo } from '../store/use-run-and-notify';
import { useKeys } from '../ui/use-shortcuts';
import { useProductionProfile } from '../components/use-production-profile';

/** What each strip of a production carries: how it is found again on another desk and in another hall. */
export function PartsScreen() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Waiting what="Opening the production" />;
  return production ? (
    <Parts production={production} />
  ) : (
    <Empty title="There is no such production">It may have been removed for good.</Empty>
  );
}

function Parts({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const done = useDo();
  const profile = useProductionProfile(production);
  const newest = production.versions.flatMap(({ newestSceneId }) => newestSceneId ?? [])[0];
  const state = useSceneStateQuery(newest ?? skipToken).data;
  const { data: saved } = usePartsQuery(production.id);
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const [set, { isLoading, error }] = useSetPartsMutation();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useKeys({ Escape: back });
  if (newest === undefined)
    return (
      <View style={styles.fill}>
        <Head over={production.name} title="Parts" onBack={back} />
        <Empty title="No scene yet">Capture one first: the names of its strips suggest what they carry.</Empty>
      </View>
    );
  if (!profile || !state || !saved) return <Waiting what="Reading the strips" />;
  const strips = inUse(profile, state).filter((strip) => !isControl(strip) && !strip.startsWith('main.'));
  const named = (strip: string) => typed[strip] ?? saved[strip] ?? '';
  const parts = Object.fromEntries(
    strips.flatMap((strip) => (named(strip).trim() === '' ? [] : [[strip, named(strip).trim()]])),
  );
  const holders = new Map<string, string[]>();
  for (const [strip, part] of Object.entries(parts)) holders.set(part, [...(holders.get(part) ?? []), strip]);
  const shared = [...holders].filter(([, own]) => own.length > 1).map(([part]) => part);
  const save = (share: readonly string[]) =>
    void done(set({ production: production.id, parts, shared: share }), (now) => {
      setTyped({});
      return `${plural(Object.keys(now).length, 'strip')} have their part.`;
    });
  const suggest = () =>
    setTyped(
      Object.fromEntries(
        strips.map((strip) => [
          strip,
          named(strip) || suggestPart(stripName(profile, state, strip)).slice(0, LONGEST_PART),
        ]),
      ),
    );
  return (
    <View style={styles.fill}>
      <Head
        over={production.name}
        title="Parts"
        onBack={back}
        side={<Action kind="quiet" title="Suggest" onPress={suggest} />}
      />
      <Body tight>
        <Words tone="second">
          What a strip carries, whichever strip it is on. By its part it is found on another desk, and keeps what it is
          set to in each hall.
        </Words>
        {error ? (
          <Card edge="stop">
            <Words kind="strong">{faultOf(error).message}</Words>
            <Words>{faultOf(error).advice}</Words>
          </Card>
        ) : null}
        {shared.length > 0 ? (
          <Card edge="care">
            <Words testID="shared">
              {shared.join(', ')} {shared.length === 1 ? 'is' : 'are'} on more than one strip. Two microphones on one
              instrument may share a part.
            </Words>
          </Card>
        ) : null}
        {strips.map((strip) => (
          <View key={strip} style={styles.row}>
            <View style={styles.fill}>
              <Words kind="strong" numberOfLines={1}>
                {stripName(profile, state, strip)}
              </Words>
              <Words kind="small" tone="second">
                {profile.plainNames[strip]}
              </Words>
            </View>
            <View style={styles.field}>
              <Field
                label={`Part of ${stripName(profile, state, strip)}`}
                value={named(strip)}
                placeholder={suggestPart(stripName(profile, state, strip))}
                maxLength={LONGEST_PART}
                onChangeText={(part) => setTyped({ ...typed, [strip]: part })}
              />
            </View>
          </View>
        ))}
      </Body>
      <Foot>
        <Action
          kind="main"
          grow
          busy={isLoading}
          title={shared.length > 0 ? 'Save, they share it' : 'Save parts'}
          disabled={Object.keys(typed).length === 0}
          onPress={() => save(shared)}
        />
      </Foot>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: 64 },
  field: { flex: 1.2 },
});
