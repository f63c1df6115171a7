import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { MAX_VENUE_NAME_LENGTH, type Parts, type VenueView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { specOf } from '@old-echo/core/desk/profile';
import { sameValue, type SettingSpec } from '@old-echo/core/desk/setting';
import { valueAt } from '@old-echo/core/desk/state';
import { venueKeys, venueSettings } from '@old-echo/core/library/venue';
import { isOne, plural } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { givenBack } from '../store/api';
import { ask } from '../store/ask';
import { useCaptureVenueMutation, useRemoveVenueMutation, useRenameVenueMutation } from '../store/library-api';
import type { LiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';
import { TypedValueSheet } from '../ui/typed-value';

const NAME: SettingSpec = { kind: 'text', longest: MAX_VENUE_NAME_LENGTH, default: '' };

/** The strips of which a venue knows something, with their parts. */
export function knownParts({ settings }: VenueView, parts: Parts): [strip: string, part: string][] {
  const keys = venueKeys(parts);
  return Object.entries(parts).filter(([strip]) => settings[keys[strip] ?? ''] !== undefined);
}

/** How many settings of a venue the desk holds otherwise now. */
function driftFrom({ settings }: VenueView, parts: Parts, { profile, state }: LiveDesk): number {
  return Object.entries(venueSettings(settings, parts)).filter(([address, value]) => {
    const [spec, held] = [specOf(profile, address), valueAt(state, address)];
    return spec !== undefined && held !== undefined && !sameValue(spec, held, value);
  }).length;
}

interface VenueCardProps {
  readonly venue: VenueView;
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
export function VenueCard({ venue, production, parts, now, busy, isAtOnce, onApply, onChoose }: VenueCardProps) {
  const done = useRunAndNotify();
  const [take] = useCaptureVenueMutation();
  const [remove] = useRemoveVenueMutation();
  const [rename] = useRenameVenueMutation();
  const [isRenaming, setRenaming] = useState(false);
  const params = { production: production.id, id: venue.id };
  const known = knownParts(venue, parts).length;
  const canApply = venue.capturedAt !== null && now.linked && known > 0;
  const drift = canApply ? driftFrom(venue, parts, now) : 0;
  return (
    <Card>
      <View testID={`venue-${venue.name}`} style={styles.venue}>
        <AppText kind="heading">{venue.name}</AppText>
        <AppText tone="second">
          {venue.capturedAt
            ? `${plural(known, 'part')}, saved from the desk ${when(venue.capturedAt)}`
            : 'Nothing saved yet. Set up in the venue, then save.'}
        </AppText>
        {canApply ? (
          <AppText tone={drift > 0 ? 'care' : 'done'}>
            {drift > 0
              ? `${plural(drift, 'setting')} on the desk ${isOne(drift) ? 'differs' : 'differ'} from it.`
              : 'The desk is set as it is here.'}
          </AppText>
        ) : null}
        <View style={styles.row}>
          <Action
            title={isAtOnce ? 'Apply to all parts' : 'Preview all parts'}
            busy={busy}
            disabled={!canApply}
            onPress={onApply}
          />
          <Action title="One part …" disabled={!canApply} onPress={onChoose} />
        </View>
        <View style={styles.row}>
          <Action
            kind="quiet"
            title="Save the desk for this venue"
            disabled={!now.linked || Object.keys(parts).length === 0}
            onPress={() =>
              void done(take(params), () => `Saved for ${venue.name}.`, ask(VENUE_ROUTES.undoVenueCapture, { params }))
            }
          />
          <Action kind="quiet" title="Rename" onPress={() => setRenaming(true)} />
          <Action
            kind="quiet"
            title="Remove"
            onPress={() => void done(remove(params), () => `${venue.name} was removed.`, givenBack)}
          />
        </View>
      </View>
      {isRenaming ? (
        <TypedValueSheet
          spec={NAME}
          value={venue.name}
          name={`Name of ${venue.name}`}
          onMove={(name) =>
            void done(
              rename({ ...params, name: String(name) }),
              () => `${venue.name} is called ${String(name)} now.`,
              ask(VENUE_ROUTES.renameVenue, { params, body: { name: venue.name } }),
            )
          }
          onClose={() => setRenaming(false)}
        />
      ) : null}
    </Card>
  );
}

const styles = StyleSheet.create({
  venue: { gap: SPACE.xs },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
