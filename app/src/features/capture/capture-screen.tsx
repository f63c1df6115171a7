import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { HelperText, Switch } from 'react-native-paper';
import { skipToken } from '@reduxjs/toolkit/query';

import { captureShape } from '@old-echo/core/contracts/scene';
import { plural } from '@old-echo/core/desk/wording';
import { stripsIn } from '@old-echo/core/scene/drift';
import { LONGEST_NAME, suggestName } from '@old-echo/core/scene/suggest-name';

import { useDesk, useDrift, type DeskNow } from '../../live/use-desk';
import { faultOf, useCaptureMutation, useProductionsQuery, useScenesQuery } from '../../store/api';
import { useAppDispatch } from '../../store/store';
import { Action, Chip, Foot } from '../../ui/actions';
import { Field } from '../../ui/field';
import { Body, Card, Empty, Head } from '../../ui/page';
import { READING, SPACE, TOUCH } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
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
  const productions = all.filter((production) => production.deskId === desk.id);
  const standing = productions.find((p) => p.id === desk.scene?.productionId) ?? productions[0];
  const [version, setVersion] = useState(desk.scene?.versionId ?? standing?.versions[0]?.id ?? '');
  const production = productions.find((p) => p.versions.some((v) => v.id === version)) ?? standing;
  const scenes = useScenesQuery(production?.id ?? skipToken).data ?? [];
  const taken = scenes
    .filter((scene) => scene.versionId === version && scene.kind === 'scene')
    .map((scene) => scene.name);
  const first = desk.scene === null && taken.length === 0;
  const suggested = first ? 'First scene' : suggestName(profile, state, drift, taken);
  const [ownName, setName] = useState<string | null>(null);
  const [note, setNote] = useState('');
  const [isMilestone, setIsMilestone] = useState(false);
  const [milestone, setMilestone] = useState('');
  const [capture, { isLoading, error }] = useCaptureMutation();
  const name = ownName ?? suggested;
  const request = { versionId: version, name, note, milestone: isMilestone ? milestone.trim() || name : '' };
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
      : taken.includes(name.trim())
        ? `This version already has a scene called ${name.trim()}.`
        : '';

  if (!production)
    return (
      <View style={styles.fill}>
        <Head title="Capture scene" onBack={back} />
        <Empty title="No production uses this desk">
          Scenes are kept in a production. None has been made for {desk.name} yet.
        </Empty>
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
            onSubmitEditing={() => wrong === '' && linked && void submit()}
            maxLength={LONGEST_NAME}
            error={wrong !== ''}
            testID="scene-name"
            selectTextOnFocus
          />
          <HelperText type={wrong ? 'error' : 'info'}>
            {wrong || (ownName === null && !first ? 'Suggested from what moved. Type over it as you like.' : ' ')}
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
          <Field label="Note" value={note} onChangeText={setNote} multiline maxLength={2000} />
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
