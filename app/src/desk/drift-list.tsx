import { useRouter } from 'expo-router';
import Undo2 from 'lucide-react-native/icons/undo-2';
import { StyleSheet, View } from 'react-native';

import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import type { SettingChange } from '@old-echo/core/desk/diff-states';
import { sectionNameInText } from '@old-echo/core/phrases/format-value';

import { ChangeList } from '../components/change-list';
import { deskHref } from '../store/desk-address';
import { type LiveDesk, useDrift } from '../store/use-live-desk';
import { Action } from '../ui/buttons';
import { Body, Empty } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { SPACE } from '../ui/tokens';
import { useRevertDrift } from './use-revert-drift';

/** What has drifted, setting by setting, to be put back strip by strip. */
export function DriftList({ now }: { readonly now: LiveDesk }) {
  const router = useRouter();
  const drift = useDrift();
  const putBack = useRevertDrift(now);
  const { id, name, baseline } = now.desk;
  if (drift === undefined || drift.length === 0)
    return drift === undefined && baseline ? (
      <Empty title="Drift is unknown">
        {now.known ? 'Loading what the desk should hold.' : `${name} has not been read yet.`}
      </Empty>
    ) : (
      <Empty title="Nothing has drifted">
        {baseline
          ? `${now.linked ? 'The desk matches' : 'When last read, the desk matched'} ${baseline.line}.`
          : 'No scene on the desk yet. Capture one to see what moves.'}
      </Empty>
    );
  return (
    <Body>
      <View style={styles.start}>
        <Action
          asks={DESK_RECALL_ROUTES.startRipple}
          kind="quiet"
          title="Apply to other scenes …"
          onPress={() => router.navigate(deskHref(id, 'ripple'))}
        />
      </View>
      <ChangeList
        profile={now.profile}
        names={now.state}
        changes={drift}
        side={(strip) =>
          putBack ? (
            <Action
              asks={DESK_RECALL_ROUTES.startRestore}
              kind="quiet"
              title="Put back"
              onPress={() => putBack(drift.filter((change) => change.strip === strip))}
            />
          ) : null
        }
      />
    </Body>
  );
}

/** Puts one section of a strip back to where the scene has it. In the line of its name, so that nothing below moves when it comes. */
export function RevertSectionButton({
  now,
  section,
  drift,
}: {
  now: LiveDesk;
  section: string;
  drift: readonly SettingChange[];
}) {
  const putBack = useRevertDrift(now);
  return putBack && drift.length > 0 ? (
    <IconAction
      asks={DESK_RECALL_ROUTES.startRestore}
      of={Undo2}
      name={`Put ${sectionNameInText(section)} back`}
      onPress={() => putBack(drift)}
    />
  ) : null;
}

const styles = StyleSheet.create({
  start: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
