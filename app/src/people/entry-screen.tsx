import { useGlobalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { PASSWORD_LENGTH } from '@old-echo/core/contracts/person';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { useEnterMutation, useHereQuery, useSignInMutation } from '../store/people-api';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Body, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

/** What a phone sees that is not let in: the only page there is for it. */
export function EntryScreen() {
  const router = useRouter();
  const { data: here } = useHereQuery();
  const { code: shown = '' } = useGlobalSearchParams<{ code?: string }>();
  const [way, setWay] = useState<'code' | 'password'>('code');
  const [code, setCode] = useState(shown);
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [device, setDevice] = useState('');
  const [enter, { error: noEntry, isLoading: isEntering }] = useEnterMutation();
  const [signIn, { error: notSignedIn, isLoading: isSigning }] = useSignInMutation();
  const isByCode = way === 'code';
  const missing = isByCode
    ? code.trim() === '' && 'Type the code first.'
    : withoutName(name) || (password === '' && 'Type the password first.');
  const whyNot = missing || (device.trim() === '' && 'Say what this device is called.');
  const go = async () => {
    if (whyNot) return;
    const { data } = isByCode
      ? await enter({ code, name: device.trim() })
      : await signIn({ name: name.trim(), password, device: device.trim() });
    if (data) router.replace('/');
  };
  const error = isByCode ? noEntry : notSignedIn;
  return (
    <View style={styles.fill}>
      <Header title="Old Echo" under="This device is not let in" />
      <Body>
        <View style={styles.column}>
          {here?.network === 'https' ? (
            <ChipRow role="tablist">
              <Chip title="By a code" chosen={isByCode} onPress={() => setWay('code')} />
              <Chip title="By a password" chosen={!isByCode} onPress={() => setWay('password')} />
            </ChipRow>
          ) : null}
          {isByCode ? (
            <>
              <AppText tone="second">
                At the machine Old Echo runs on, Settings, People, Let somebody in shows a code.
              </AppText>
              <Field label="Code" value={code} onChangeText={setCode} maxLength={64} testID="entry-code" />
            </>
          ) : (
            <>
              <AppText tone="second">
                Whoever was let in before can have set a password, in the settings of that device.
              </AppText>
              <Field
                label="Your name"
                value={name}
                onChangeText={setName}
                maxLength={MAX_PERSON_NAME_LENGTH}
                testID="person-name"
              />
              <Field
                label="Password"
                secureTextEntry
                value={password}
                onChangeText={setPassword}
                maxLength={PASSWORD_LENGTH.most}
                testID="password"
              />
            </>
          )}
          <Field
            label="What this device is to be called"
            placeholder="Phone at front of house"
            value={device}
            onChangeText={setDevice}
            onSubmitEditing={() => void go()}
            maxLength={MAX_PERSON_NAME_LENGTH}
            testID="device-name"
          />
          {error ? <FaultCard error={error} /> : null}
        </View>
      </Body>
      <Footer>
        <Action
          kind="main"
          grow
          title="Go in"
          busy={isEntering || isSigning}
          disabled={whyNot}
          onPress={() => void go()}
        />
      </Footer>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
