import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import { VERSION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/phrases/format-value';

import { useMixNotesQuery } from '../store/combine-api';
import { useChangeCountQuery, useSceneQuery } from '../store/scenes-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { VersionSheet } from './version-sheet';
import { STATUS_NAMES } from './version-status';

interface VersionProps {
  readonly production: ProductionView;
  readonly version: VersionView;
}

/** A version in a few words: its state of status, where it began, how far it has come since. */
export function VersionCard({ production, version }: VersionProps) {
  const router = useRouter();
  const [editing, setEditing] = useState(false);
  const { data: mixNotes = [] } = useMixNotesQuery(version.id);
  const open = mixNotes.filter(({ status }) => status === 'open').length;
  return (
    <View style={styles.card}>
      <Card edge={version.status === 'approved' ? 'done' : undefined}>
        <View style={styles.row}>
          <View style={styles.fill}>
            <AppText kind="strong">
              {STATUS_NAMES[version.status]} · {plural(version.scenes, 'scene')}
            </AppText>
            <VersionOrigin version={version} />
            {version.note ? (
              <AppText kind="small" numberOfLines={3}>
                {version.note}
              </AppText>
            ) : null}
          </View>
          <Action asks={VERSION_ROUTES.editVersion} kind="quiet" title="Edit" onPress={() => setEditing(true)} />
          <Action
            kind="quiet"
            title={open > 0 ? `Mix notes · ${open}` : 'Mix notes'}
            onPress={() => router.navigate(`/mixes/${production.id}/mix-notes?version=${version.id}`)}
          />
          <Action
            kind="quiet"
            title="Strip history"
            disabled={version.scenes === 0 && 'It has no scene yet.'}
            onPress={() => router.navigate(`/mixes/${production.id}/strip-history?version=${version.id}`)}
          />
        </View>
      </Card>
      <VersionSheet production={production} version={version} open={editing} onClose={() => setEditing(false)} />
    </View>
  );
}

/** "From 14 Static balance; 23 settings on 5 strips since." */
function VersionOrigin({ version }: { readonly version: VersionView }) {
  const { fromSceneId, newestSceneId } = version;
  const from = useSceneQuery(fromSceneId ?? skipToken).data;
  const far = useChangeCountQuery(
    fromSceneId && newestSceneId ? { from: fromSceneId, to: newestSceneId } : skipToken,
  ).data;
  if (!fromSceneId) return null;
  return (
    <AppText kind="small" tone="second">
      {from ? `From ${sceneTitle(from)}` : 'Made from another scene'}
      {far
        ? far.settings === 0
          ? '; unchanged since.'
          : `; ${plural(far.settings, 'setting')} on ${plural(far.strips, 'strip')} changed since.`
        : '.'}
    </AppText>
  );
}

const styles = StyleSheet.create({
  card: { paddingHorizontal: SPACE.l, paddingBottom: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center' },
  fill: { flex: 1, minWidth: 0 },
});
