import dayjs from 'dayjs';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ClientPage } from '@old-echo/core/contracts/client-link';

import { FaultCard } from '../components/fault-card';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { useClientPageQuery, useSayWordMutation } from '../store/client-api';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Empty, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { ClientChoices } from './client-choices';
import { ClientNotes } from './client-notes';
import { ClientPlayer } from './client-player';

/** What somebody without an account hears by a link: mixes, and nothing else. */
export function ClientScreen() {
  const { token = '' } = useLocalSearchParams<{ token?: string }>();
  const { data: page, error, refetch } = useClientPageQuery(token);
  if (page) return <Client token={token} page={page} />;
  if (!error) return <Loading what="Loading the mixes" />;
  const fault = toApiFault(error);
  if (fault.code === 'wrong-secret') return <WordForm token={token} />;
  if (fault.code === 'not-found')
    return (
      <View style={styles.fill}>
        <Header title="Old Echo" />
        <Empty title={fault.message}>{fault.advice}</Empty>
        <Footer>
          <Action grow title="Look again" onPress={() => void refetch()} />
        </Footer>
      </View>
    );
  return <LoadError fault={fault} onAgain={() => void refetch()} />;
}

/** Asks for the word of a link that has one. */
function WordForm({ token }: { readonly token: string }) {
  const [word, setWord] = useState('');
  const [say, { error, isLoading }] = useSayWordMutation();
  const whyNot = word.trim() === '' && 'Type the word first.';
  const go = () => {
    if (!whyNot) void say({ token, word });
  };
  return (
    <View style={styles.fill}>
      <Header title="Old Echo" under="Mixes to listen to" />
      <Body>
        <View style={styles.column}>
          <AppText tone="second">This link asks for a word. Whoever sent it knows it.</AppText>
          <Field label="Word" value={word} onChangeText={setWord} onSubmitEditing={go} testID="client-word" autoFocus />
          {error ? <FaultCard error={error} /> : null}
        </View>
      </Body>
      <Footer>
        <Action kind="main" grow title="Listen" busy={isLoading} disabled={whyNot} onPress={go} />
      </Footer>
    </View>
  );
}

function Client({ token, page }: { readonly token: string; readonly page: ClientPage }) {
  const { production, name, note, by, endsAt } = page;
  const [at, setAt] = useState({ mix: 0, seconds: 0 });
  return (
    <View style={styles.fill}>
      <Header
        title={production}
        under={[`For ${name}`, by && `from ${by}`, `until ${dayjs(endsAt).format('D MMM YYYY')}`]
          .filter(Boolean)
          .join(' · ')}
      />
      <Body>
        <View style={styles.column}>
          {note ? <AppText>{note}</AppText> : null}
          <ClientPlayer token={token} page={page} onAt={setAt} />
          <ClientChoices token={token} page={page} />
          <ClientNotes token={token} page={page} at={at} />
        </View>
      </Body>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
