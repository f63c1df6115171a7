import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { SHEET_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { PART_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import type { ParsedInputList } from '@old-echo/core/files/input-list';
import { plural } from '@old-echo/core/phrases/format-value';

import { useStageSettings } from '../components/use-stage-settings';
import { addressOf } from '../store/ask';
import { useReadStripListMutation } from '../store/files-api';
import { usePartsQuery, useSetPartsMutation } from '../store/library-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** The strip list of a production as CSV, out and in: names, parts, patch, 48 V, notes. */
export function StripList({ production }: { readonly production: ProductionView }) {
  const done = useRunAndNotify();
  const [read] = useReadStripListMutation();
  const [setParts] = useSetPartsMutation();
  const { data: parts = {} } = usePartsQuery(production.id);
  const [list, setList] = useState<ParsedInputList | null>(null);
  const { put, busy, isAtOnce } = useStageSettings();
  const moves = Object.keys(list?.settings ?? {}).length;
  const named = Object.keys(list?.parts ?? {}).length;
  const takeParts = () =>
    list &&
    void done(
      setParts({ production: production.id, parts: { ...parts, ...list.parts }, shared: sharedIn(list.parts) }),
      () => (named === 0 ? '' : `Parts saved for ${plural(named, 'strip')}.`),
    );
  return (
    <View style={styles.list}>
      <AppText kind="strong">Strip list</AppText>
      <View style={styles.row}>
        <Action
          title="Save as CSV"
          onPress={() =>
            window.location.assign(addressOf(SHEET_ROUTES.inputList, { params: { production: production.id } }))
          }
        />
        <Action
          asks={PART_ROUTES.setParts}
          title="Import CSV"
          onPress={() =>
            chooseFiles({ accept: '.csv,text/csv' }, ([file]) => {
              if (!file) return;
              void file
                .text()
                .then((text) => done(read({ production: production.id, text }), () => ''))
                .then((answer) => answer && setList(answer));
            })
          }
        />
      </View>
      {list ? (
        <Card edge={list.wrong.length > 0 ? 'care' : 'done'}>
          <AppText testID="strip-list">
            {plural(moves, 'setting')} would change, {plural(named, 'part')} named.
          </AppText>
          {list.wrong.map((why) => (
            <AppText key={why} tone="second">
              {why}
            </AppText>
          ))}
          <View style={styles.row}>
            <Action title="Use its parts" disabled={named === 0 && 'The list names no part.'} onPress={takeParts} />
            <Action
              title={isAtOnce ? 'Apply its settings' : 'Preview its settings'}
              busy={busy}
              disabled={moves === 0 && 'The desk is set as the list says.'}
              onPress={() =>
                put({
                  deskId: production.deskId,
                  title: `Strip list of ${production.name}`,
                  settings: list.settings,
                })
              }
            />
          </View>
        </Card>
      ) : null}
    </View>
  );
}

/** Parts that a list names more than once: whoever wrote it meant them to be shared. */
const sharedIn = (parts: Readonly<Record<string, string>>): string[] => {
  const all = Object.values(parts);
  return [...new Set(all.filter((part, i) => all.indexOf(part) !== i))];
};

const styles = StyleSheet.create({
  list: { gap: SPACE.s, paddingTop: SPACE.m },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
