import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ClientChoice, ClientPage } from '@old-echo/core/contracts/client-link';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { useChooseMutation } from '../store/client-api';
import { calledOneself } from '../store/preferences-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Card } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';

interface ClientProps {
  readonly token: string;
  readonly page: ClientPage;
}

/** Which mix is the favourite, and which is approved. */
export function ClientChoices({ token, page }: ClientProps) {
  const { mixes, favourite, approved } = page;
  const done = useRunAndNotify();
  const [choose, { isLoading }] = useChooseMutation();
  const who = useAppSelector((root) => root.place.who);
  const [approving, setApproving] = useState<number | null>(null);
  const whyNot = withoutName(who) && 'Say who you are first.';
  const letter = (mix: number) => (mixes.length === 1 ? 'this mix' : (['A', 'B'][mix] ?? ''));
  const say = (choice: Omit<ClientChoice, 'name'>, words: string) =>
    done(choose({ token, choice: { ...choice, name: who.trim() } }), () => words);
  return (
    <Card edge={approved ? 'done' : undefined}>
      <YourName />
      {mixes.length > 1 ? (
        <>
          <AppText kind="strong">Which do you like better?</AppText>
          <ChipRow role="tablist" aria-label="Favourite">
            {mixes.map(({ name }, i) => (
              <Chip
                key={name}
                title={letter(i)}
                chosen={favourite?.mix === i}
                disabled={whyNot}
                onPress={() => void say({ favourite: i }, `${letter(i)} is your favourite.`)}
              />
            ))}
          </ChipRow>
        </>
      ) : null}
      {approved ? (
        <>
          <AppText kind="strong" tone="done">
            {mixes[approved.mix]?.name} is approved by {approved.by}.
          </AppText>
          <Action
            kind="quiet"
            title="Take the approval back"
            disabled={whyNot}
            busy={isLoading}
            onPress={() => void say({ approved: null }, 'Nothing is approved.')}
          />
        </>
      ) : (
        <ChipRow>
          {mixes.map(({ name }, i) => (
            <Action
              key={name}
              kind="small"
              title={`Approve ${letter(i)}`}
              disabled={whyNot}
              onPress={() => setApproving(i)}
            />
          ))}
        </ChipRow>
      )}
      {approving === null ? null : (
        <Sheet title={`Approve ${mixes[approving]?.name ?? ''}?`} open onClose={() => setApproving(null)}>
          <View style={styles.ask}>
            <AppText>Whoever sent it is told that this mix is the one. You can take it back.</AppText>
            <Action
              kind="main"
              title="Approve"
              busy={isLoading}
              onPress={() =>
                void say({ approved: approving }, `${letter(approving)} is approved.`).then(() => setApproving(null))
              }
            />
            <Action title="Cancel" onPress={() => setApproving(null)} />
          </View>
        </Sheet>
      )}
    </Card>
  );
}

/** Who says it: asked once on each device. */
function YourName() {
  const dispatch = useAppDispatch();
  const who = useAppSelector((root) => root.place.who);
  return (
    <Field
      label="Your name, to like, approve or note"
      value={who}
      maxLength={MAX_PERSON_NAME_LENGTH}
      onChangeText={(name) => dispatch(calledOneself(name))}
      testID="client-name"
    />
  );
}

const styles = StyleSheet.create({ ask: { gap: SPACE.m, paddingBottom: SPACE.s } });
