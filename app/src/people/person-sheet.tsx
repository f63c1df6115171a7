import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { PersonEdit, PersonView } from '@old-echo/core/contracts/person';
import { type Role, ROLES } from '@old-echo/core/contracts/role';
import { MAX_PERSON_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';

import { FaultCard } from '../components/fault-card';
import { useEditPersonMutation, useForgetPasswordMutation, useRemovePersonMutation } from '../store/people-api';
import { useProductionsQuery } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Chip, HoldButton } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Field } from '../ui/field';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { withoutName } from '../ui/why-not';
import { RoleChoice } from './role-choice';
import { ROLE_NAMES } from './role-words';

interface PersonSheetProps {
  readonly person: PersonView;
  readonly onClose: () => void;
  /** Lets them in on one more device. */
  readonly onLetIn: () => void;
}

/** What somebody is called and may do, everywhere and in single songs and shows. */
export function PersonSheet({ person, onClose, onLetIn }: PersonSheetProps) {
  const done = useRunAndNotify();
  const [edit, { error, isLoading }] = useEditPersonMutation();
  const [remove] = useRemovePersonMutation();
  const [forget, { isLoading: isForgetting }] = useForgetPasswordMutation();
  const [name, setName] = useState(person.name);
  const save = (change: PersonEdit) => edit({ id: person.id, edit: change });
  const whyNot = withoutName(name) || (name.length > MAX_PERSON_NAME_LENGTH && 'It is too long.');
  return (
    <Sheet title={person.name} open onClose={onClose}>
      <View style={styles.column}>
        <Field
          label="Name"
          value={name}
          onChangeText={setName}
          maxLength={MAX_PERSON_NAME_LENGTH}
          testID="person-name"
        />
        {name.trim() === person.name ? null : (
          <Action title="Rename" busy={isLoading} disabled={whyNot} onPress={() => void save({ name: name.trim() })} />
        )}
        {error ? <FaultCard error={error} /> : null}
        <AppText kind="heading">May do</AppText>
        <RoleChoice role={person.role} onChoose={(role) => void save({ role })} />
        <ByProduction person={person} onChange={(productions) => void save({ productions: [...productions] })} />
        <Action title="Let in on another device" onPress={onLetIn} />
        {person.hasPassword ? (
          <Action
            title="Take the password away"
            busy={isForgetting}
            onPress={() => void done(forget(person.id), ({ name: whose }) => `${whose} gets in by codes alone.`)}
          />
        ) : null}
        <View style={styles.hold}>
          <HoldButton
            title={`Hold to remove ${person.name}`}
            onDone={() =>
              void done(remove(person.id), () => `${person.name} is out, with every device.`).then(
                (gone) => gone && onClose(),
              )
            }
          />
        </View>
        <Action title="Close" onPress={onClose} />
      </View>
    </Sheet>
  );
}

interface ByProductionProps {
  readonly person: PersonView;
  readonly onChange: (productions: PersonView['productions']) => void;
}

/** The songs and shows in which somebody may do something else than elsewhere. */
function ByProduction({ person: { role, productions }, onChange }: ByProductionProps) {
  const { data = [] } = useProductionsQuery();
  const [isOpen, setIsOpen] = useState(productions.length > 0);
  const there = data.filter(({ binnedAt }) => !binnedAt);
  const choose = (productionId: string, next: Role) => {
    const others = productions.filter((one) => one.productionId !== productionId);
    onChange(next === role ? others : [...others, { productionId, role: next }]);
  };
  if (!isOpen)
    return there.length > 0 ? <Action title="Otherwise in one song or show" onPress={() => setIsOpen(true)} /> : null;
  return (
    <>
      <AppText kind="heading">In one song or show</AppText>
      <AppText tone="second">
        What is about several of them, or about a desk alone, is done as the least of these.
      </AppText>
      {there.map(({ id, name }) => {
        const own = productions.find(({ productionId }) => productionId === id)?.role ?? role;
        return (
          <View key={id} style={styles.production}>
            <AppText kind="strong" numberOfLines={1}>
              {name}
            </AppText>
            <ChipRow role="tablist" aria-label={`Role in ${name}`}>
              {ROLES.map((one) => (
                <Chip key={one} title={ROLE_NAMES[one]} chosen={one === own} onPress={() => choose(id, one)} />
              ))}
            </ChipRow>
          </View>
        );
      })}
    </>
  );
}

const styles = StyleSheet.create({
  // Room for the label on the edge of the field at the top.
  column: { gap: SPACE.m, paddingTop: SPACE.s },
  hold: { flexDirection: 'row' },
  production: { gap: SPACE.xs },
});
