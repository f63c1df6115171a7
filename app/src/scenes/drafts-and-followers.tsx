import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import type { CombinationView } from '@old-echo/core/contracts/combination';
import type { FollowerView } from '@old-echo/core/contracts/follower';
import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { COMBINATION_ROUTES, FOLLOWER_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';

import { whenInText } from '../components/format-time';
import { combineHref } from '../components/links/combine-link';
import {
  useCombinationsQuery,
  useFollowersQuery,
  useStartCombinationMutation,
  useTakeOverMutation,
} from '../store/combine-api';
import { useSceneQuery } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

interface UnderwayProps {
  readonly production: ProductionView;
  /** The version that is looked at; all of them without one. */
  readonly version: VersionView | undefined;
}

/** What waits to be gone on with: scenes in the making, and versions that are behind the one they follow. */
export function DraftsAndFollowers({ production, version }: UnderwayProps) {
  const { data: making = [] } = useCombinationsQuery(production.id);
  const { data: behind = [] } = useFollowersQuery(production.id);
  const done = useRunAndNotify();
  const [takeOver, { isLoading }] = useTakeOverMutation();
  const isShown = (versionId: string) => !version || version.id === versionId;
  const followers = behind.filter((one) => isShown(one.versionId) || isShown(one.followsId));
  const ofFollowers = new Set(behind.map(({ base, merge }) => `${base} ${merge}`));
  const shown = making.filter(
    ({ versionId, recipe }) => isShown(versionId) && !ofFollowers.has(`${recipe.base} ${recipe.merge?.scene ?? ''}`),
  );
  if (followers.length + shown.length === 0) return null;
  const all = () =>
    void done(
      takeOver({ production: production.id, versions: followers.map(({ versionId }) => versionId) }),
      (taken) => {
        const open = taken.filter(({ combinationId }) => combinationId !== null).length;
        const kept = plural(taken.length - open, 'version');
        return open > 0 ? `${kept} brought up to date; ${open} to settle first.` : `${kept} brought up to date.`;
      },
    );
  return (
    <View style={styles.list} testID="drafts">
      {followers.map((follower) => (
        <Follower
          key={follower.versionId}
          production={production}
          follower={follower}
          begun={making.find(({ recipe }) => recipe.base === follower.base && recipe.merge?.scene === follower.merge)}
        />
      ))}
      {followers.length > 1 ? (
        <Action
          asks={FOLLOWER_ROUTES.catchUp}
          title={`Bring all ${followers.length} up to date`}
          busy={isLoading}
          onPress={all}
        />
      ) : null}
      {shown.map((one) => (
        <DraftRow key={one.id} combination={one} />
      ))}
    </View>
  );
}

interface FollowerProps {
  readonly production: ProductionView;
  readonly follower: FollowerView;
  /** Where someone began already. */
  readonly begun: CombinationView | undefined;
}

function Follower({ production, follower, begun }: FollowerProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [begin, { isLoading }] = useStartCombinationMutation();
  const { base, merge, behind, settings, keeps, conflicts } = follower;
  const name = (id: string) => production.versions.find((version) => version.id === id)?.name ?? '';
  return (
    <Card edge="care">
      <View style={styles.row}>
        <AppText style={styles.fill}>
          <AppText kind="strong">{name(follower.versionId)}</AppText> is {plural(behind, 'scene')} behind{' '}
          {name(follower.followsId)}
          <AppText kind="small" tone="second">
            {`: ${plural(settings, 'setting')} to take over, ${plural(keeps, 'section')} ${keeps === 1 ? 'stays' : 'stay'}${conflicts > 0 ? `, ${conflicts} at odds` : ''}.`}
          </AppText>
        </AppText>
        <Action
          asks={COMBINATION_ROUTES.startCombination}
          kind="small"
          title={begun ? 'Continue' : 'Take over'}
          busy={isLoading}
          onPress={() =>
            begun
              ? router.navigate(combineHref(begun.id))
              : void done(begin({ base, merge, picks: {} }), () => '').then(
                  (made) => made && router.navigate(combineHref(made.id)),
                )
          }
        />
      </View>
    </Card>
  );
}

function DraftRow({ combination: { id, recipe, changedAt } }: { readonly combination: CombinationView }) {
  const router = useRouter();
  const { data: base } = useSceneQuery(recipe.base);
  return (
    <Card>
      <View style={styles.row}>
        <AppText style={styles.fill}>
          Unfinished combination on {base ? sceneTitle(base) : 'a scene'}
          <AppText kind="small" tone="second">{`, ${whenInText(changedAt)}`}</AppText>
        </AppText>
        <Action
          asks={COMBINATION_ROUTES.editCombination}
          kind="small"
          title="Continue"
          onPress={() => router.navigate(combineHref(id))}
        />
      </View>
    </Card>
  );
}

const styles = StyleSheet.create({
  list: { gap: SPACE.s, paddingHorizontal: SPACE.l, paddingBottom: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  fill: { flex: 1, minWidth: 0 },
});
