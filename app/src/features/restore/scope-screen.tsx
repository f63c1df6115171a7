import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/desk/wording';
import { choiceOf, scopeOf, type Choice } from '@old-echo/core/scope/choice';
import { compileScope } from '@old-echo/core/scope/compile';
import { EVERYTHING } from '@old-echo/core/scope/rules';
import { scopeSentence } from '@old-echo/core/scope/sentence';

import { useDesk } from '../../live/use-desk';
import { useSceneQuery } from '../../store/api';
import { Action, Foot } from '../../ui/actions';
import { Card, Head, Split, useWide } from '../../ui/page';
import { SPACE } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Sentence } from '../../ui/words';
import { useKeys } from '../shell/use-keys';
import { ScopeChooser } from './scope-chooser';
import { PreviewPane } from './preview-pane';
import { usePlan } from './use-plan';

/** What comes back: the first step of a restore. On a wide screen the preview stands beside it. */
export function ScopeScreen() {
  const { scene: sceneId } = useLocalSearchParams<{ scene: string }>();
  const router = useRouter();
  const wide = useWide();
  const now = useDesk();
  const scene = useSceneQuery(sceneId).data;
  const profile = now?.profile;
  const saved = useMemo(() => profile && scene && choiceOf(profile, scene.scope ?? EVERYTHING), [profile, scene]);
  const safes = now?.desk.safes;
  const [own, setOwn] = useState<Choice | null>(null);
  const choice = own ?? saved;
  const scope = useMemo(() => profile && choice && scopeOf(profile, choice), [profile, choice]);
  const compiled = useMemo(
    () => profile && scope && safes && compileScope(profile, scope, safes),
    [profile, scope, safes],
  );
  const plan = usePlan(sceneId, scope);
  const back = () =>
    scene ? router.navigate(`/mixes/${scene.productionId}/scene/${scene.id}`) : router.navigate('/mixes');
  const toPreview = () =>
    router.navigate(`/restore/${sceneId}/preview?scope=${encodeURIComponent(JSON.stringify(scope))}`);
  const count = plan?.preview.changes.length ?? 0;
  useKeys({ Escape: back, ...(wide ? {} : { r: () => count > 0 && toPreview() }) });
  if (!now || !scene || !choice || !scope || !compiled) return <Waiting what="Opening the scene" />;
  const chooser = (
    <View style={styles.fill}>
      <Head over={`Restore · ${scene.number} ${scene.name}`} title="What comes back" onBack={back} />
      <View style={styles.sentence}>
        <Card>
          <Sentence phrases={scopeSentence(now.profile, compiled)} />
        </Card>
      </View>
      <ScopeChooser
        now={now}
        compiled={compiled}
        choice={choice}
        onChoose={setOwn}
        onSaved={() => setOwn(null)}
        plan={plan}
      />
      {wide ? null : (
        <Foot>
          <Action
            kind="main"
            grow
            title={count === 0 ? 'Nothing would change' : `Preview ${plural(count, 'change')}`}
            disabled={count === 0}
            onPress={toPreview}
          />
        </Foot>
      )}
    </View>
  );
  return <Split showDetail={false} list={chooser} detail={<PreviewPane sceneId={sceneId} scope={scope} />} />;
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  sentence: { paddingHorizontal: SPACE.l, paddingTop: SPACE.m },
});
