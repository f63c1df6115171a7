import { StyleSheet, View } from 'react-native';

import { PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { withoutDeadRules } from '@old-echo/core/desk/edit-profile';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { type ChangeLine, describeProfileChange } from '@old-echo/core/phrases/describe-profile-change';

import { FaultCard } from '../../components/fault-card';
import { Loading } from '../../components/loading';
import { ask } from '../../store/ask';
import { useChangeProfileMutation, useProfileChangeQuery } from '../../store/desk-api';
import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { Card } from '../../ui/layout';
import { Sheet } from '../../ui/sheet';
import { SPACE } from '../../ui/tokens';
import type { ModelDraft } from './use-model-draft';

interface ChangeSheetProps {
  readonly draft: ModelDraft;
  /** What the draft says. */
  readonly profile: Profile;
  readonly onClose: () => void;
  readonly onDone: () => void;
}

const EDGES = { goes: 'care', comes: 'done', first: 'stop' } as const;

/** What it means for desks and scenes to change a model, before it is changed. */
export function ChangeSheet({ draft, profile, onClose, onDone }: ChangeSheetProps) {
  const dispatch = useAppDispatch();
  const source = withoutDeadRules(draft.source);
  const { id, name } = source;
  const { data: view, error } = useProfileChangeQuery({ id, source }, { refetchOnMountOrArgChange: true });
  const [change, changing] = useChangeProfileMutation();
  const lines: readonly ChangeLine[] = view ? describeProfileChange(parseProfile(draft.was), profile, view) : [];
  const save = async () => {
    const { data } = await change({ id, was: draft.was, source });
    if (!data) return;
    const undo = { params: { id }, body: { was: source, source: draft.was } };
    dispatch(noticed(`${name} changed.`, ask(PROFILE_ROUTES.changeProfile, undo)));
    draft.forget();
    onDone();
  };
  return (
    <Sheet title={`If ${name} is changed`} open onClose={onClose}>
      <View style={styles.list}>
        {view ? (
          lines.map(({ kind, text }) => (
            <Card key={text} edge={EDGES[kind]}>
              <AppText>{text}</AppText>
            </Card>
          ))
        ) : error ? (
          <FaultCard error={error} />
        ) : (
          <Loading what="Looking at all its scenes" />
        )}
        {changing.error ? <FaultCard error={changing.error} /> : null}
        <Action
          kind="main"
          title={`Change ${name}`}
          busy={changing.isLoading}
          disabled={!view && 'It is not known yet what it means.'}
          onPress={() => void save()}
        />
        <Action title="Leave it as it is" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ list: { gap: SPACE.s, paddingBottom: SPACE.s } });
