import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { Parts, VenueView } from '@old-echo/core/contracts/part';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { withSettings } from '@old-echo/core/desk/state';
import { venueSettings } from '@old-echo/core/library/venue';
import { countStrips, isOne, plural } from '@old-echo/core/phrases/format-value';

import { AuditionBar } from '../components/audition/audition-bar';
import { useDeskAudition } from '../components/audition/use-desk-audition';
import { ChangeList } from '../components/change-list';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

interface CompareVenuesSheetProps {
  readonly venue: VenueView;
  /** What it is compared with. */
  readonly others: readonly VenueView[];
  readonly parts: Parts;
  readonly now: LiveDesk;
  readonly onClose: () => void;
}

/** What a venue has otherwise than another, setting by setting and by ear: A is the venue, B the other. */
export function CompareVenuesSheet({ venue, others, parts, now, onClose }: CompareVenuesSheetProps) {
  const [chosen, setChosen] = useState(others[0]?.id);
  const other = others.find(({ id }) => id === chosen) ?? others[0];
  // What only one of them holds stays as it is on the desk in the other.
  const a = venueSettings(now.profile, venue.settings, parts);
  const b = venueSettings(now.profile, other?.settings ?? {}, parts);
  const changes = diffStates(now.profile, withSettings(now.state, a), withSettings(now.state, b));
  const audition = useDeskAudition(now, a, b);
  return (
    <Sheet title={`A: ${venue.name}`} open onClose={onClose}>
      <View style={styles.body}>
        {others.map(({ id, name }) => (
          <Option key={id} title={`B: ${name}`} chosen={id === other?.id} onPress={() => setChosen(id)} />
        ))}
        <AppText kind="heading" testID="venues-differ">
          {changes.length === 0
            ? 'The same on this desk'
            : `${plural(changes.length, 'setting')} on ${countStrips(changes.map(({ strip }) => strip))} ${isOne(changes.length) ? 'differs' : 'differ'}`}
        </AppText>
        {audition && changes.length > 0 ? <AuditionBar audition={audition} title="Hear A and B" /> : null}
        <ChangeList profile={now.profile} names={now.state} changes={changes} compared />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ body: { gap: SPACE.s } });
