import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { plural, sectionName } from '@old-echo/core/desk/wording';
import { stripsIn, type SettingChange } from '@old-echo/core/scene/drift';
import { recallOf } from '@old-echo/core/contracts/restore';
import type { Scope } from '@old-echo/core/scope/rules';

import { useDrift, type DeskNow } from '../../live/use-desk';
import { Action } from '../../ui/actions';
import { Body, Empty, Head } from '../../ui/page';
import { previewHref } from '../restore/recall-link';
import { ChangeList } from '../strip/change-list';

/** Goes to the preview that puts drift back: all of a strip's, or one section of it. */
export function usePutBack(now: DeskNow): ((strip: string, drift: readonly SettingChange[]) => void) | undefined {
  const router = useRouter();
  const { scene } = now.desk;
  if (!scene || !now.linked) return undefined;
  return (strip, drift) => {
    const sections = [...new Set(drift.filter((change) => change.strip === strip).map((change) => change.section))];
    const scope: Scope = [{ strips: [strip], sections, take: true }];
    router.navigate(previewHref(recallOf(scene.id, scope)));
  };
}

/** What has drifted, setting by setting, to be put back strip by strip. */
export function DriftList({ now }: { readonly now: DeskNow }) {
  const router = useRouter();
  const drift = useDrift();
  const putBack = usePutBack(now);
  if (drift.length === 0)
    return (
      <Empty title="Nothing has drifted">
        {now.desk.scene
          ? `The desk stands as ${now.desk.scene.name} was captured.`
          : 'No scene stands on the desk yet. Capture one, and what moves from then on is listed here.'}
      </Empty>
    );
  return (
    <Body>
      <View style={styles.start}>
        <Action kind="quiet" title="Write into other scenes …" onPress={() => router.navigate('/ripple')} />
      </View>
      <ChangeList
        profile={now.profile}
        names={now.state}
        changes={drift}
        side={(strip) =>
          putBack ? <Action kind="quiet" title="Put back" onPress={() => putBack(strip, drift)} /> : null
        }
      />
    </Body>
  );
}

/** The detail of the desk while no strip is open. */
export function Drifted({ now }: { readonly now: DeskNow }) {
  const drift = useDrift();
  return (
    <View style={styles.fill}>
      {drift.length > 0 ? (
        <Head
          over={`Since ${now.desk.scene?.number} ${now.desk.scene?.name}`}
          title={`${plural(drift.length, 'setting')} drifted on ${plural(stripsIn(drift), 'strip')}`}
        />
      ) : null}
      <DriftList now={now} />
    </View>
  );
}

/** Puts one section of a strip back to where the scene has it. */
export function PutSectionBack({
  now,
  section,
  drift,
}: {
  now: DeskNow;
  section: string;
  drift: readonly SettingChange[];
}) {
  const putBack = usePutBack(now);
  const [first] = drift;
  return putBack && first ? (
    <Action title={`Put ${sectionName(section)} back`} onPress={() => putBack(first.strip, drift)} />
  ) : null;
}

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 }, start: { alignItems: 'flex-start' } });
