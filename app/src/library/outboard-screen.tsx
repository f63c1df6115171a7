import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Image, StyleSheet, View } from 'react-native';

import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { OUTBOARD_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { MAX_NOTE_LENGTH } from '@old-echo/core/fault/text-shapes';

import { KeptDraft } from '../components/kept-draft';
import { Loading } from '../components/loading';
import { SaveConflict } from '../components/save-conflict';
import { useProduction } from '../components/use-production';
import { givenBack } from '../store/api';
import { addressOf } from '../store/ask';
import {
  useEditOutboardMutation,
  useNewOutboardMutation,
  useOutboardQuery,
  usePhotographMutation,
  useRemoveOutboardMutation,
} from '../store/library-api';
import { useDraft } from '../store/use-draft';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';
import { Field } from '../ui/field';
import { Body, Card, Empty, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { CORNER, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { withoutName } from '../ui/why-not';

/** What no desk stores: devices beside it, their controls as one reads them, and a photo. */
export function OutboardScreen() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Loading what="Loading the outboard gear" />;
  return production ? (
    <Outboard production={production} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Outboard({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: devices } = useOutboardQuery(production.id);
  const [editing, setEditing] = useState<string | null>(null);
  const [photograph] = usePhotographMutation();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  if (!devices) return <Loading what="Loading the outboard gear" />;
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Outboard gear" onBack={back} />
      <Body tight>
        <AppText tone="second">
          Gear no desk can store. Saved with each scene from now on, and on its recall sheet.
        </AppText>
        {devices.length === 0 ? (
          <Empty title="No units yet">Add a unit with its controls, and photograph it.</Empty>
        ) : null}
        {devices.map((device) => (
          <Card key={device.id}>
            <View testID={`device-${device.name}`} style={styles.device}>
              <AppText kind="heading">{device.name}</AppText>
              {device.controls.map(({ name, value }) => (
                <View key={name} style={styles.control}>
                  <AppText tone="second">{name}</AppText>
                  <AppText kind="value">{value}</AppText>
                </View>
              ))}
              {device.note ? <AppText>{device.note}</AppText> : null}
              {device.photo ? (
                <Image
                  source={{
                    uri: addressOf(OUTBOARD_ROUTES.outboardPhoto, {
                      params: { production: production.id, hash: device.photo },
                    }),
                  }}
                  style={styles.photo}
                  resizeMode="contain"
                  accessibilityLabel={`Photo of ${device.name}`}
                />
              ) : null}
              <View style={styles.row}>
                <Action
                  asks={OUTBOARD_ROUTES.editOutboard}
                  kind="quiet"
                  title="Edit"
                  onPress={() => setEditing(device.id)}
                />
                <Action
                  asks={OUTBOARD_ROUTES.setOutboardPhoto}
                  kind="quiet"
                  title={device.photo ? 'Another photo' : 'Photo'}
                  onPress={() =>
                    chooseFiles({ accept: 'image/jpeg,image/png,image/webp' }, ([photo]) => {
                      if (photo)
                        void done(
                          photograph({ production: production.id, id: device.id, photo }),
                          () => `Photo of ${device.name} saved.`,
                        );
                    })
                  }
                />
              </View>
            </View>
          </Card>
        ))}
      </Body>
      <MainAction asks={OUTBOARD_ROUTES.addOutboard} title="Add a unit" onPress={() => setEditing('new')} />
      {editing !== null ? (
        <DeviceSheet
          production={production.id}
          device={devices.find(({ id }) => id === editing) ?? null}
          onClose={() => setEditing(null)}
        />
      ) : null}
    </View>
  );
}

interface DeviceSheetProps {
  readonly production: string;
  readonly device: OutboardView | null;
  readonly onClose: () => void;
}

/** A device and its controls; a control is a line: "Threshold: −12". */
function DeviceSheet({ production, device, onClose }: DeviceSheetProps) {
  const done = useRunAndNotify();
  const draft = useDraft(`outboard/${device?.id ?? `new/${production}`}`, {
    name: device?.name ?? '',
    controls: (device?.controls ?? []).map((k) => `${k.name}: ${k.value}`).join('\n'),
    note: device?.note ?? '',
    revision: device?.revision ?? 0,
  });
  const { name, controls, note, revision } = draft.values;
  const leave = () => {
    draft.forget();
    onClose();
  };
  const [add, adding] = useNewOutboardMutation();
  const [edit, editing] = useEditOutboardMutation();
  const [remove] = useRemoveOutboardMutation();
  const error = adding.error ?? editing.error;
  const read = controls
    .split('\n')
    .map((line) => line.split(':'))
    .flatMap(([control = '', ...value]) =>
      control.trim() === '' ? [] : [{ name: control.trim(), value: value.join(':').trim() }],
    );
  const words = { name, controls: read, note };
  const save = async (over: number) => {
    const answer = device
      ? await edit({ production, id: device.id, edit: { ...words, revision: over } })
      : await add({ production, device: words });
    if (answer.data) leave();
  };
  return (
    <Sheet title={device ? device.name : 'Outboard unit'} open onClose={onClose}>
      <View style={styles.form}>
        <KeptDraft draft={draft} />
        <Field label="Name" value={name} onChangeText={(typed) => draft.set({ name: typed })} maxLength={80} />
        <Field
          label="Controls, one per line, e.g. Threshold: −12"
          value={controls}
          onChangeText={(typed) => draft.set({ controls: typed })}
          multiline
          maxLength={4000}
        />
        <Field
          label="Note"
          value={note}
          onChangeText={(typed) => draft.set({ note: typed })}
          multiline
          maxLength={MAX_NOTE_LENGTH}
        />
        {error ? (
          <SaveConflict
            error={error}
            now={device && device.revision !== revision ? summary(device) : undefined}
            onOver={() => void save(device?.revision ?? 0)}
          />
        ) : null}
        <Action kind="main" title="Save" disabled={withoutName(name)} onPress={() => void save(revision)} />
        {device ? (
          <Action
            kind="quiet"
            title="Remove"
            onPress={() => {
              leave();
              void done(remove({ production, id: device.id }), () => `${device.name} was removed.`, givenBack);
            }}
          />
        ) : null}
      </View>
    </Sheet>
  );
}

const summary = ({ name, controls }: OutboardView): string =>
  [name, ...controls.map((control) => `${control.name} ${control.value}`)].join(' · ');

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  device: { gap: SPACE.xs },
  control: { flexDirection: 'row', justifyContent: 'space-between' },
  photo: { height: 180, borderRadius: CORNER.small },
  row: { flexDirection: 'row', gap: SPACE.s },
  form: { gap: SPACE.m, paddingBottom: SPACE.s },
});
