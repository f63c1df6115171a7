import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { ENTRY_CODE_S, type EntryCode } from '@old-echo/core/contracts/device';
import type { PersonView, WhoIsLetIn } from '@old-echo/core/contracts/person';
import type { Role } from '@old-echo/core/contracts/role';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { useMakeEntryCodeMutation, usePeopleQuery } from '../store/people-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Field } from '../ui/field';
import { QrCode } from '../ui/qr-code';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import { RoleChoice } from './role-choice';

interface EntrySheetProps {
  /** Those who are here already. */
  readonly people: readonly PersonView[];
  /** Whom it is for, where that is known; else it is asked. */
  readonly person?: PersonView | undefined;
  readonly onClose: () => void;
}

/** Lets somebody in on one more device: who it is and what they may do, and then a code. */
export function EntrySheet({ people, person, onClose }: EntrySheetProps) {
  const [who, setWho] = useState<WhoIsLetIn | null>(person ? { personId: person.id } : null);
  return (
    <Sheet title={person ? `Let ${person.name} in` : 'Let somebody in'} open onClose={onClose}>
      {who ? <Code who={who} onClose={onClose} /> : <Who people={people} onChoose={setWho} onClose={onClose} />}
    </Sheet>
  );
}

interface WhoProps {
  readonly people: readonly PersonView[];
  readonly onChoose: (who: WhoIsLetIn) => void;
  readonly onClose: () => void;
}

function Who({ people, onChoose, onClose }: WhoProps) {
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('engineer');
  const typed = name.trim();
  const known = people.find((one) => one.name.toLowerCase() === typed.toLowerCase());
  const whyNot = withoutName(name) || (name.length > MAX_PERSON_NAME_LENGTH && 'It is too long.');
  const go = () => {
    if (!whyNot) onChoose(known ? { personId: known.id } : { name: typed, role });
  };
  return (
    <View style={styles.column}>
      <Field
        label="Who is it?"
        value={name}
        onChangeText={setName}
        onSubmitEditing={go}
        maxLength={MAX_PERSON_NAME_LENGTH}
        testID="person-name"
      />
      {known ? (
        <AppText tone="second">{known.name} is known already: this is one more device.</AppText>
      ) : (
        <RoleChoice role={role} onChoose={setRole} />
      )}
      <Action kind="main" title="Show the code" disabled={whyNot} onPress={go} />
      <Action title="Cancel" onPress={onClose} />
    </View>
  );
}

/** How often it is looked whether somebody came in, in ms. */
const LOOK_MS = 1500;

/** What a phone is shown to get in: a picture for its camera, and the same in words. */
function Code({ who, onClose }: { readonly who: WhoIsLetIn; readonly onClose: () => void }) {
  const [make, { data: entry, error, isLoading }] = useMakeEntryCodeMutation();
  const left = useSecondsUntil(entry?.endsAt);
  const { data: people } = usePeopleQuery(undefined, { pollingInterval: LOOK_MS });
  useEffect(() => void make(who), [make, who]);
  const devices = people?.flatMap((person) => person.devices) ?? [];
  const cameIn = entry && devices.find(({ madeAt }) => madeAt >= beganAt(entry));
  // Somebody new is somebody who is known from the first code on.
  const again = people?.find(({ id, name }) => id === who.personId || name === who.name);
  return (
    <View style={styles.column}>
      {error ? <FaultCard error={error} /> : null}
      {cameIn ? (
        <AppText kind="strong" tone="done" aria-live="polite">
          {cameIn.name} is in.
        </AppText>
      ) : entry && left > 0 ? (
        <EntryWays entry={entry} left={left} />
      ) : entry ? (
        <AppText>The two minutes are over.</AppText>
      ) : null}
      {cameIn || (entry && left === 0) || error ? (
        <Action
          title={cameIn ? 'Let in on another device' : 'New code'}
          busy={isLoading}
          onPress={() => void make(again ? { personId: again.id } : who)}
        />
      ) : null}
      <Action title="Close" onPress={onClose} />
    </View>
  );
}

function EntryWays({ entry: { code, addresses }, left }: { readonly entry: EntryCode; readonly left: number }) {
  const [address = '', ...others] = addresses;
  return (
    <>
      <QrCode text={`${address}/enter?code=${code}`} label={`${address}/enter, code ${spaced(code)}`} />
      <AppText tone="second">
        Point the phone’s camera at this, or open the address there and type the code.
        {address.startsWith('https:')
          ? ' It warns once of a certificate that it does not know: that is this machine’s own.'
          : ' Nothing is encrypted on the way: whoever listens on that network can take the code.'}
      </AppText>
      <AppText kind="value">{address}</AppText>
      <AppText kind="figure" testID="entry-code">
        {spaced(code)}
      </AppText>
      {others.length > 0 ? <AppText tone="second">Or by another network: {others.join(', ')}</AppText> : null}
      <AppText tone="second">Good for one device, for another {left} s.</AppText>
    </>
  );
}

/** "K7Q2M 9XH4T" */
const spaced = (code: string): string => `${code.slice(0, 5)} ${code.slice(5)}`;

/** When a code was made. */
const beganAt = ({ endsAt }: EntryCode): string => new Date(Date.parse(endsAt) - ENTRY_CODE_S * 1000).toISOString();

/** Whole seconds until a moment, counted down as they pass. */
function useSecondsUntil(moment: string | undefined): number {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 500);
    return () => clearInterval(timer);
  }, []);
  if (!moment) return 0;
  return Math.min(ENTRY_CODE_S, Math.max(0, Math.ceil((Date.parse(moment) - now.getTime()) / 1000)));
}

const styles = StyleSheet.create({
  // Room for the label on the edge of the field at the top.
  column: { gap: SPACE.m, paddingTop: SPACE.s },
});
