import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/desk/wording';

import { useAppDispatch, useAppSelector } from '../../store/store';
import { Action } from '../../ui/actions';
import { useLook } from '../../ui/theme';
import { SPACE, TOUCH } from '../../ui/tokens';
import { Words } from '../../ui/words';
import { useKeys } from '../shell/use-keys';
import { cleared, toggled } from './selection-slice';

/** Says how many strips are picked out, and what for; the key x picks the strip that is marked. */
export function Selected() {
  const look = useLook();
  const dispatch = useAppDispatch();
  const count = useAppSelector((root) => root.selection.length);
  useKeys({
    x: () => {
      const marked = document.activeElement?.closest('[data-testid^="strip-"]')?.getAttribute('data-testid');
      if (marked) dispatch(toggled(marked.slice('strip-'.length)));
    },
  });
  if (count === 0) return null;
  return (
    <View style={[styles.bar, { backgroundColor: look.wash }]}>
      <View style={styles.fill}>
        <Words kind="strong">{plural(count, 'strip')} selected</Words>
        <Words kind="small" tone="second">
          To be chosen together in what comes back
        </Words>
      </View>
      <Action kind="quiet" title="Clear" onPress={() => dispatch(cleared())} />
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: SPACE.l, minHeight: TOUCH },
  fill: { flex: 1, minWidth: 0 },
});
