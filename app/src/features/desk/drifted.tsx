import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/desk/wording';
import { stripsIn } from '@old-echo/core/scene/drift';

import { useDrift, type DeskNow } from '../../live/use-desk';
import { Body, Empty, Head } from '../../ui/page';
import { ChangeList } from '../strip/change-list';

/** What has drifted, setting by setting: the detail of the desk while no strip is open. */
export function Drifted({ now }: { readonly now: DeskNow }) {
  const drift = useDrift();
  if (drift.length === 0)
    return (
      <View style={styles.fill}>
        <Empty title="Nothing has drifted">
          Open a strip to see all of its settings, or capture what stands on the desk.
        </Empty>
      </View>
    );
  return (
    <View style={styles.fill}>
      <Head
        over={`Since ${now.desk.scene?.number} ${now.desk.scene?.name}`}
        title={`${plural(drift.length, 'setting')} drifted on ${plural(stripsIn(drift), 'strip')}`}
      />
      <Body>
        <ChangeList profile={now.profile} names={now.state} changes={drift} />
      </Body>
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1 } });
