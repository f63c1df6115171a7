import { StyleSheet, View } from 'react-native';

import { faultLine } from '../store/api';
import { useMoveSettingsMutation } from '../store/desk-api';
import { heldMoveEnded } from '../store/held-move-slice';
import { told } from '../store/live-slice';
import { noticed } from '../store/notice-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action, HoldButton } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

/** Asks for a hold before a move by hand is sent that can hurt, in live mode. Given up, the control goes back to where it was sent. */
export function HeldMoveSheet() {
  const dispatch = useAppDispatch();
  const move = useAppSelector((root) => root.heldMove);
  const [send] = useMoveSettingsMutation();
  const giveUp = () => {
    if (move) dispatch(told({ type: 'settings-changed', settings: move.back }));
    dispatch(heldMoveEnded());
  };
  const confirm = () => {
    if (!move) return;
    dispatch(heldMoveEnded());
    void send({ desk: move.desk, settings: move.settings, confirmed: move.cautions.map(({ id }) => id) }).then(
      ({ error, data }) => {
        const failed = data?.unconfirmed[0];
        if (!error && !failed) return;
        dispatch(told({ type: 'settings-changed', settings: move.back }));
        dispatch(noticed(error ? faultLine(error) : (failed?.why ?? '')));
      },
    );
  };
  return (
    <Sheet title="Hold to move" open={move !== null} onClose={giveUp}>
      <View style={styles.ask}>
        {move?.cautions.map(({ id, title, detail }) => (
          <View key={id}>
            <AppText kind="strong">{title}</AppText>
            {detail ? <AppText tone="second">{detail}</AppText> : null}
          </View>
        ))}
        <View style={styles.hold}>
          <HoldButton title="Hold to move" onDone={confirm} />
        </View>
        <Action title="Cancel" onPress={giveUp} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ ask: { gap: SPACE.m, paddingBottom: SPACE.s }, hold: { flexDirection: 'row' } });
