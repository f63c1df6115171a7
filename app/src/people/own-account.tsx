import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { type HereView, PASSWORD_LENGTH } from '@old-echo/core/contracts/person';

import { FaultCard } from '../components/fault-card';
import { heardAt } from '../components/heard-at';
import { useHereQuery, useSetPasswordMutation, useSignOutMutation } from '../store/people-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { Field } from '../ui/field';
import { Card } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { ROLE_MEANS, ROLE_NAMES } from './role-words';

/** Who somebody is that was let in, and how they get in elsewhere. Nothing at the machine itself. */
export function OwnAccount() {
  const { data: here } = useHereQuery();
  const done = useRunAndNotify();
  const [signOut, { isLoading }] = useSignOutMutation();
  const [isSetting, setIsSetting] = useState(false);
  if (!here?.person || !here.device || !here.role) return null;
  const { person, device, role, network } = here;
  return (
    <Card>
      <AppText kind="strong">{person.name}</AppText>
      <AppText tone="second">{`${ROLE_NAMES[role]}: ${ROLE_MEANS[role].toLowerCase()}.`}</AppText>
      <AppText tone="second">{`${device.name}, let in ${heardAt(device.madeAt)}`}</AppText>
      <Action
        title={person.hasPassword ? 'Change the password' : 'Set a password'}
        disabled={network === 'http' && 'No password is taken where nothing is encrypted.'}
        onPress={() => setIsSetting(true)}
      />
      <Action
        title="Sign out"
        busy={isLoading}
        onPress={() => void done(signOut(), () => `${device.name} is signed out.`)}
      />
      {isSetting ? <PasswordSheet person={person} onClose={() => setIsSetting(false)} /> : null}
    </Card>
  );
}

interface PasswordSheetProps {
  readonly person: NonNullable<HereView['person']>;
  readonly onClose: () => void;
}

function PasswordSheet({ person, onClose }: PasswordSheetProps) {
  const done = useRunAndNotify();
  const [set, { error, isLoading }] = useSetPasswordMutation();
  const [current, setCurrent] = useState('');
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const [signOutOthers, setSignOutOthers] = useState(person.hasPassword);
  const withoutCurrent = person.hasPassword && current === '' && 'Type the one until now first.';
  const whyNot =
    withoutCurrent ||
    (password.length < PASSWORD_LENGTH.least && `It has ${PASSWORD_LENGTH.least} characters at least.`) ||
    (password.length > PASSWORD_LENGTH.most && 'It is too long.') ||
    (password !== again && 'The two are not the same.');
  const save = async (next: string | null) => {
    const others = signOutOthers ? ' Other devices are signed out.' : '';
    const saved = await done(
      set({ current, password: next, signOutOthers }),
      () => `${person.name} gets in by ${next === null ? 'codes alone' : 'a password too'}.${others}`,
    );
    if (saved) onClose();
  };
  return (
    <Sheet title={person.hasPassword ? 'Change the password' : 'Set a password'} open onClose={onClose}>
      <View style={styles.column}>
        <AppText tone="second">
          With your name and a password you get in on any device, without a code. Four words that have nothing to do
          with one another are good.
        </AppText>
        {person.hasPassword ? (
          <Field
            label="Password until now"
            secureTextEntry
            value={current}
            onChangeText={setCurrent}
            testID="current-password"
          />
        ) : null}
        <Field
          label="New password"
          secureTextEntry
          value={password}
          onChangeText={setPassword}
          maxLength={PASSWORD_LENGTH.most}
          testID="new-password"
        />
        <Field label="The same again" secureTextEntry value={again} onChangeText={setAgain} testID="same-password" />
        <Chip
          toggle
          title="Sign out my other devices"
          chosen={signOutOthers}
          onPress={() => setSignOutOthers(!signOutOthers)}
        />
        {error ? <FaultCard error={error} /> : null}
        <Action kind="main" title="Save" busy={isLoading} disabled={whyNot} onPress={() => void save(password)} />
        {person.hasPassword ? (
          <Action title="Take it away" busy={isLoading} disabled={withoutCurrent} onPress={() => void save(null)} />
        ) : null}
        <Action title="Cancel" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ column: { gap: SPACE.m } });
