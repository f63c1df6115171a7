import { useGlobalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { useEnterMutation } from '../store/people-api';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

/** What a phone sees that is not let in: the only page there is for it. */
export function EntryScreen() {
  const router = useRouter();
  const { code: shown = '' } = useGlobalSearchParams<{ code?: string }>();
  const [code, setCode] = useState(shown);
  const [name, setName] = useState('');
  const [enter, { error, isLoading }] = useEnterMutation();
  const whyNot = code.trim() === '' ? 'Type the code first.' : withoutName(name);
  const go = async () => {
    if (whyNot) return;
    const { data } = await enter({ code, name: name.trim() });
    if (data) router.replace('/');
  };
  return (
    <View style={styles.fill}>
      <Header title="Old Echo" under="This device is not let in" />
      <Body>
        <View style={styles.column}>
          <AppText tone="second">
            At the machine Old Echo runs on, Settings, Devices, Let a phone in shows a code.
          </AppText>
          <Field label="Code" value={code} onChangeText={setCode} maxLength={64} testID="entry-code" />
          <Field
            label="What this device is to be called"
            placeholder="Phone at front of house"
            value={name}
            onChangeText={setName}
            onSubmitEditing={() => void go()}
            maxLength={MAX_PERSON_NAME_LENGTH}
            testID="device-name"
          />
          {error ? <FaultCard error={error} /> : null}
        </View>
      </Body>
      <Footer>
        <Action kind="main" grow title="Go in" busy={isLoading} disabled={whyNot} onPress={() => void go()} />
      </Footer>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
