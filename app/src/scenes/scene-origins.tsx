import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import { describeOrigins } from '@old-echo/core/phrases/describe-origins';

import { useCellOriginsQuery } from '../store/combine-api';
import { useSceneStateQuery, useSourcesQuery } from '../store/scenes-api';
import { AppText, Sentence } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** What of a scene that was made out of several comes from where. */
export function SceneOrigins({ scene, profile }: { readonly scene: SceneView; readonly profile: Profile }) {
  const router = useRouter();
  const several = scene.parents.length > 1;
  const { data: origins } = useCellOriginsQuery(several ? scene.id : skipToken);
  const { data: sources } = useSourcesQuery(several ? scene.parents : skipToken);
  const { data: state } = useSceneStateQuery(several ? scene.id : skipToken);
  const [base] = scene.parents;
  if (!origins || !sources || !state || !base) return null;
  const nameOf = (id: string) => {
    const of = sources[id]?.scene;
    return of ? sceneTitle(of) : 'a deleted scene';
  };
  return (
    <View testID="made-from">
      <Card>
        <AppText kind="small" tone="second">
          Combined from several scenes
        </AppText>
        <Sentence phrases={describeOrigins(profile, state, origins, nameOf, base)} />
        <View style={styles.row}>
          {scene.parents.map((id) => (
            <Action
              key={id}
              kind="small"
              title={nameOf(id)}
              onPress={() => router.navigate(`/mixes/${sources[id]?.scene.productionId ?? ''}/scene/${id}`)}
            />
          ))}
        </View>
      </Card>
    </View>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s } });
