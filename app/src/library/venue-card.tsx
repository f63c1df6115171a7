import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { Parts, VenueView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { EXPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { specOf } from '@old-echo/core/desk/profile';
import { sameValue } from '@old-echo/core/desk/setting';
import { valueAt } from '@old-echo/core/desk/state';
import { partsHeld, sectionsHeld, venueSettings } from '@old-echo/core/library/venue';
import { isOne, joinWithAnd, plural, sectionNameInText } from '@old-echo/core/phrases/format-value';

import { whenInText } from '../components/format-time';
import { givenBack } from '../store/api';
import { addressOf } from '../store/ask';
import { useCopyVenueMutation, useRemoveVenueMutation, useVenuesQuery } from '../store/library-api';
import { type LiveDesk, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { MenuRow, MoreAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { CompareVenuesSheet } from './compare-venues-sheet';
import { EditVenueSheet } from './edit-venue-sheet';
import { SaveVenueSheet } from './save-venue-sheet';

/** How many settings of a venue the desk holds otherwise now. */
function driftFrom({ settings }: VenueView, parts: Parts, { profile, state }: LiveDesk): number {
  return Object.entries(venueSettings(profile, settings, parts)).filter(([address, value]) => {
    const [spec, held] = [specOf(profile, address), valueAt(state, address)];
    return spec !== undefined && held !== undefined && !sameValue(spec, held, value);
  }).length;
}

/** What else an archive of a song or show can hold. */
const BESIDES_VENUES = ['versions', 'mixNotes', 'parts', 'outboard', 'scopes', 'presets', 'atHand', 'safes'];

/** Where a venue alone is as a file. */
const fileOf = (venue: VenueView, { id }: ProductionView, venues: readonly VenueView[]): string => {
  const others = venues.filter((one) => one.id !== venue.id).map(({ name }) => `venues/${name}`);
  return addressOf(EXPORT_ROUTES.exportProduction, {
    params: { id },
    query: { without: [...BESIDES_VENUES, ...others] },
  });
};

interface VenueCardProps {
  readonly venue: VenueView;
  /** The other venues of which something is saved. */
  readonly others: readonly VenueView[];
  readonly production: ProductionView;
  readonly parts: Parts;
  readonly now: LiveDesk;
  readonly busy: boolean;
  readonly isAtOnce: boolean;
  /** Puts all of its parts on the desk. */
  readonly onApply: () => void;
  /** Chooses one of them. */
  readonly onChoose: () => void;
}

/** A venue: how much it knows, how far the desk is from it, and what can be done with it. */
export function VenueCard({
  venue,
  others,
  production,
  parts,
  now,
  busy,
  isAtOnce,
  onApply,
  onChoose,
}: VenueCardProps) {
  const done = useRunAndNotify();
  const { data: venues = [] } = useVenuesQuery(production.id);
  const [remove] = useRemoveVenueMutation();
  const [copy] = useCopyVenueMutation();
  const [open, setOpen] = useState<'more' | 'save' | 'edit' | 'compare' | null>(null);
  const close = () => setOpen(null);
  const then = (act: () => void) => () => {
    close();
    act();
  };
  const params = { production: production.id, id: venue.id };
  const known = partsHeld(venue.settings, parts).length;
  const sections = joinWithAnd([...sectionsHeld(venue.settings, parts)].map(sectionNameInText));
  const whyNotApply =
    (venue.capturedAt === null && `Nothing is saved for ${venue.name} yet.`) ||
    (known === 0 && `No part of ${venue.name} is on this desk.`) ||
    whyNotLinked(now);
  const drift = whyNotApply === false ? driftFrom(venue, parts, now) : 0;
  return (
    <Card>
      <View testID={`venue-${venue.name}`} style={styles.venue}>
        <AppText kind="heading">{venue.name}</AppText>
        <AppText tone="second">
          {venue.capturedAt
            ? `${plural(known, 'part')}: ${sections}. Saved from the desk ${whenInText(venue.capturedAt)}`
            : 'Nothing saved yet. Set up in the venue, then save.'}
        </AppText>
        {venue.note ? <AppText>{venue.note}</AppText> : null}
        {whyNotApply === false ? (
          <AppText tone={drift > 0 ? 'care' : 'done'}>
            {drift > 0
              ? `${plural(drift, 'setting')} on the desk ${isOne(drift) ? 'differs' : 'differ'} from it.`
              : 'The desk is set as it is here.'}
          </AppText>
        ) : null}
        <View style={styles.row}>
          <Action
            asks={DESK_RECALL_ROUTES.startRestore}
            title={isAtOnce ? 'Apply to all parts' : 'Preview all parts'}
            busy={busy}
            disabled={whyNotApply}
            onPress={onApply}
          />
          <Action asks={DESK_RECALL_ROUTES.startRestore} title="One part …" disabled={whyNotApply} onPress={onChoose} />
        </View>
        <View style={styles.row}>
          <Action
            asks={VENUE_ROUTES.captureVenue}
            kind="quiet"
            title="Save the desk for it …"
            disabled={whyNotLinked(now) || (Object.keys(parts).length === 0 && 'Name the parts first.')}
            onPress={() => setOpen('save')}
          />
          <MoreAction of={venue.name} onPress={() => setOpen('more')} />
        </View>
      </View>
      <Sheet title={venue.name} open={open === 'more'} onClose={close}>
        <MenuRow asks={VENUE_ROUTES.editVenue} title="Edit name and note" onPress={() => setOpen('edit')} />
        <MenuRow
          title="Compare with another venue"
          under="Setting by setting, on this desk"
          disabled={others.length === 0 && 'Nothing is saved for another venue yet.'}
          onPress={() => setOpen('compare')}
        />
        <MenuRow
          asks={VENUE_ROUTES.copyVenue}
          title="Duplicate"
          under="A venue that holds the same"
          onPress={then(() => void done(copy(params), () => `${venue.name} was copied.`))}
        />
        <MenuRow
          asks={EXPORT_ROUTES.exportProduction}
          title="Save as a file"
          under="To bring into this song or show elsewhere, or into another"
          onPress={then(() => window.location.assign(fileOf(venue, production, venues)))}
        />
        <MenuRow
          asks={VENUE_ROUTES.removeVenue}
          title="Remove"
          under="You can take it back"
          onPress={then(() => void done(remove(params), () => `${venue.name} was removed.`, givenBack))}
        />
      </Sheet>
      {open === 'save' ? (
        <SaveVenueSheet {...{ venue, parts, now }} production={production.id} onClose={close} />
      ) : null}
      {open === 'edit' ? <EditVenueSheet venue={venue} production={production.id} onClose={close} /> : null}
      {open === 'compare' ? <CompareVenuesSheet {...{ venue, others, parts, now }} onClose={close} /> : null}
    </Card>
  );
}

const styles = StyleSheet.create({
  venue: { gap: SPACE.xs },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
