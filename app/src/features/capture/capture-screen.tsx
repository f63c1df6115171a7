import { useRouter } from 'expo-router';
import { useDeferredValue, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { HelperText, Switch } from 'react-native-paper';
import { skipToken } from '@reduxjs/toolkit/query';

import { captureShape } from '@old-echo/core/contracts/scene';
import { LONGEST_NOTE } from '@old-echo/core/contracts/words';
import { plural } from '@old-echo/core/desk/wording';
import { stripsIn } from '@old-echo/core/scene/drift';
import { LONGEST_NAME, suggestName } from '@old-echo/core/scene/suggest-name';

import { useDesk, useDrift, type DeskNow } from '../../live/use-desk';
import { faultOf, useCaptureMutation, useFreeNameQuery, useProductionsQuery } from '../../store/api';
import { useAppDispatch } from '../../store/store';
import { Action, Chip, Foot } from '../../ui/actions';
import { Field } from '../../ui/field';
import { Body, Card, Empty, Head } from '../../ui/page';
import { READING, SPACE, TOUCH } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
import { tagsIn } from '../mixes/tags-in';
import { noticed } from '../shell/notice-slice';
import { useKeys } from '../shell/use-keys';
import { ChangeList } from '../strip/change-list';

/** Capture: everything on the desk becomes a scene, with a name that says what moved. */
export function CaptureScreen() {
  const now = useDesk();
  const { data: productions } = useProductionsQuery();
  return now && productions ? <CaptureForm key={now.desk.id} now={now} /> : <Waiting what="Reading the desk" />;
}

function CaptureForm({ now }: { readonly now: DeskNow }) {
  const { desk, profile, state, linked } = now;
  const router = useRouter();
  const dispatch = useAppDispatch();
  const drift = useDrift();
  const all = useProductionsQuery().data ?? [];
  const productions = all.filter((production) => production.deskId === desk.id && !production.binnedAt);
  const standing = productions.find((p) => p.id === desk.scene?.productionId) ?? productions[0];
  const begin = standing?.versions.find((v) => v.id === desk.scene?.versionId) ?? standing?.versions[0];
  const [version, setVersion] = useState(begin?.id ?? '');
  const production = productions.find((p) => p.versions.some((v) => v.id === version)) ?? standing;
  const scenes = production?.versions.find((v) => v.id === version)?.scenes ?? 0;
  const first = desk.scene === null && scenes === 0;
  const moved = first ? 'First scene' : suggestName(profile, state, drift);
  const suggested = useFreeNameQuery(version ? { version, name: moved } : skipToken).currentData?.name ?? moved;
  const [ownName, setName] = useState<string | null>(null);
  const typed = useDeferredValue(ownName?.trim() ?? '');
  const free = useFreeNameQuery(version && typed ? { version, name: typed } : skipToken).currentData?.name;
  const [note, setNote] = useState('');
  const [tags, setTags] = useState('');
  const [isMilestone, setIsMilestone] = useState(false);
  const [milestone, setMilestone] = useState('');
  const [capture, { isLoading, error }] = useCaptureMutation();
  const name = ownName ?? suggested;
  const stage = isMilestone ? milestone.trim() || name : '';
  const request = { versionId: version, name, note, milestone: stage, tags: tagsIn(tags) };
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/desk'));
  useKeys({ Escape: back });

  const submit = async () => {
    const answer = await capture({ desk: desk.id, capture: captureShape.cast(request) });
    if (answer.error) return;
    dispatch(noticed(`Captured ${answer.data.number} · ${answer.data.name}. Everything on the desk is kept.`));
    back();
  };
  const wrong =
    name.trim() === ''
      ? 'A scene needs a name.'
      : free !== undefined && free !== typed && ownName !== null
        ? `This version already has a scene called ${name.trim()}.`
        : '';

  if (!production)
    return (
      <View style={styles.fill}>
        <Head title="Capture scene" onBack={back} />
        <Empty title="No production uses this desk">
          Scenes are kept in a production. None has been made for {desk.name} yet.
        </Empty>
        <Foot>
          <Action kind="main" grow title="Songs and shows" onPress={() => router.navigate('/productions')} />
        </Foot>
      </View>
    );
  return (
    <View style={styles.fill}>
      <Head over={`${desk.name} · ${production.name}`} title="Capture scene" onBack={back} />
      <Body>
        <View style={styles.form}>
          <Field
            label="Name"
            value={name}
            onChangeText={setName}
            // From here on it is the person's: a suggestion that changes under the fingers would be typed into.
            onFocus={() => setName(name)}
            onSubmitEditing={() => wrong === '' && linked && void submit()}
            maxLength={LONGEST_NAME}
            error={wrong !== ''}
            testID="scene-name"
            selectTextOnFocus
          />
          <HelperText type={wrong ? 'error' : 'info'}>
            {wrong ||
              ((ownName === null || ownName === suggested) && !first
                ? 'Suggested from what moved. Type over it as you like.'
                : ' ')}
          </HelperText>
          <Words kind="strong">Version</Words>
          <View style={styles.chips} role="tablist">
            {productions.flatMap((p) =>
              p.versions.map((v) => (
                <Chip
                  key={v.id}
                  title={productions.length > 1 ? `${p.name} · ${v.name}` : v.name}
                  chosen={v.id === version}
                  onPress={() => setVersion(v.id)}
                />
              )),
            )}
          </View>
          <Field label="Note" value={note} onChangeText={setNote} multiline maxLength={LONGEST_NOTE} />
          <Field label="Tags, with commas between" value={tags} onChangeText={setTags} />
          <View style={styles.milestone}>
            <View style={styles.fill}>
              <Words kind="strong">Milestone</Words>
              <Words kind="small" tone="second">
                A stage reached: it stands out in the history.
              </Words>
            </View>
            <Switch value={isMilestone} onValueChange={setIsMilestone} accessibilityLabel="Milestone" />
          </View>
          {isMilestone ? (
            <Field
              label="Stage reached"
              placeholder="static mix done"
              value={milestone}
              onChangeText={setMilestone}
              maxLength={LONGEST_NAME}
            />
          ) : null}
          <Card>
            <Words kind="strong">
              {desk.scene
                ? drift.length > 0
                  ? `${plural(drift.length, 'setting')} on ${plural(stripsIn(drift), 'strip')} since ${desk.scene.number} ${desk.scene.name}`
                  : `Nothing moved since ${desk.scene.number} ${desk.scene.name}`
                : 'The first scene on this desk'}
            </Words>
            <Words kind="small" tone="second">
              All {plural(profile.strips.length, 'strip')} are kept, whatever a restore brings back later.
            </Words>
            <ChangeList profile={profile} names={state} changes={drift} />
          </Card>
          {error ? (
            <Card edge="stop">
              <Words kind="strong">{faultOf(error).message}</Words>
              <Words>{faultOf(error).advice}</Words>
            </Card>
          ) : null}
        </View>
      </Body>
      <Foot>
        <Action
          kind="main"
          grow
          title="Capture"
          busy={isLoading}
          disabled={!linked || wrong !== ''}
          onPress={() => void submit()}
        />
        <Action title="Cancel" onPress={back} />
      </Foot>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  form: { gap: SPACE.s, maxWidth: READING, width: '100%', alignSelf: 'center' },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
  milestone: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH, gap: SPACE.s },
});
