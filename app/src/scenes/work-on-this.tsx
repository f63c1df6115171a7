import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';

import { useDeskProduction } from '../components/use-desk-production';
import { ask } from '../store/ask';
import { useEditDeskMutation } from '../store/desk-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

interface WorkOnThisProps {
  readonly desk: DeskView;
  /** The song or show that one looks at. */
  readonly production: ProductionView;
}

/** Where a desk works on another song or show than one looks at: asks whether it goes over to this one. */
export function WorkOnThis({ desk, production }: WorkOnThisProps) {
  const { id, name } = production;
  const on = useDeskProduction(desk);
  const done = useRunAndNotify();
  const [edit, { isLoading }] = useEditDeskMutation();
  if (!on || on.id === id || (desk.scene === null && desk.worksOn === null)) return null;
  const goOver = () =>
    void done(
      edit({ id: desk.id, edit: { worksOn: id } }),
      () => `${desk.name} works on ${name}. Nothing was sent to it.`,
      ask(DESK_ROUTES.editDesk, { params: { id: desk.id }, body: { worksOn: desk.worksOn } }),
    );
  return (
    <View style={styles.card}>
      <Card>
        <AppText numberOfLines={3}>
          {desk.name} works on {on.name}. Work on {name} now?
        </AppText>
        <AppText kind="small" tone="second">
          Captures, the scenes at hand and the swap go along; the desk itself stays as it is.
        </AppText>
        <ChipRow>
          <Action asks={DESK_ROUTES.editDesk} kind="small" title="Work on this now" busy={isLoading} onPress={goOver} />
        </ChipRow>
      </Card>
    </View>
  );
}

const styles = StyleSheet.create({ card: { paddingHorizontal: SPACE.l, paddingBottom: SPACE.s } });
