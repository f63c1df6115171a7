import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { Parts, VenueView } from '@old-echo/core/contracts/part';
import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { displayName } from '@old-echo/core/desk/state';
import { partsHeld, sectionsHeld, USUAL_VENUE_SECTIONS, venueSectionOf } from '@old-echo/core/library/venue';

import { CheckRow } from '../components/check-row';
import { SectionChips } from '../components/section-chips';
import { ask } from '../store/ask';
import { useCaptureVenueMutation } from '../store/library-api';
import { type LiveDesk, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Sheet } from '../ui/sheet';
import { toggled } from '../ui/toggle-in-set';
import { SPACE } from '../ui/tokens';

interface SaveVenueSheetProps {
  readonly venue: VenueView;
  readonly production: string;
  readonly parts: Parts;
  readonly now: LiveDesk;
  readonly onClose: () => void;
}

/** What a venue holds from now on: which sections, and of which parts, as they stand on the desk. */
export function SaveVenueSheet({ venue, production, parts, now, onClose }: SaveVenueSheetProps) {
  const done = useRunAndNotify();
  const [take, { isLoading }] = useCaptureVenueMutation();
  const wasSaved = venue.capturedAt !== null;
  const [sections, setSections] = useState<ReadonlySet<string>>(
    () => new Set(wasSaved ? sectionsHeld(venue.settings, parts) : USUAL_VENUE_SECTIONS),
  );
  const [strips, setStrips] = useState<ReadonlySet<string>>(
    () => new Set(wasSaved ? partsHeld(venue.settings, parts).map(([strip]) => strip) : Object.keys(parts)),
  );
  const onDesk = now.profile.strips.filter((strip) => parts[strip] !== undefined && now.state[strip]);
  const available = [
    ...new Set([
      ...USUAL_VENUE_SECTIONS,
      ...onDesk.flatMap((strip) => Object.keys(now.state[strip] ?? {}).map((key) => venueSectionOf(strip, key))),
    ]),
  ];
  const params = { production, id: venue.id };
  const save = () =>
    void done(
      take({ ...params, capture: { sections: [...sections], strips: [...strips] } }),
      () => `Saved for ${venue.name}.`,
      ask(VENUE_ROUTES.undoVenueCapture, { params }),
    ).then((saved) => saved && onClose());
  return (
    <Sheet title={`Save the desk for ${venue.name}`} open onClose={onClose}>
      <View style={styles.body}>
        <AppText tone="second">Only what is chosen is kept for this venue; all else stays as the mix has it.</AppText>
        <SectionChips held={available} chosen={sections} onChange={setSections} />
        <View>
          {onDesk.map((strip) => (
            <CheckRow
              key={strip}
              name={parts[strip] ?? ''}
              under={displayName(now.profile, now.state, strip)}
              tick={strips.has(strip) ? 'all' : 'none'}
              testID={`plays-${strip}`}
              onPress={() => setStrips(toggled(strips, strip))}
            />
          ))}
        </View>
        <Action
          kind="main"
          title="Save"
          busy={isLoading}
          disabled={
            (sections.size === 0 && 'Choose a section first.') ||
            (strips.size === 0 && 'Choose a part first.') ||
            whyNotLinked(now)
          }
          onPress={save}
        />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ body: { gap: SPACE.m } });
