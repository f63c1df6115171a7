import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { MAX_VENUE_NAME_LENGTH, type VenueView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { PART_ROUTES, VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { displayName } from '@old-echo/core/desk/state';
import { partsHeld, venueSettings } from '@old-echo/core/library/venue';

import { Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { useStageSettings } from '../components/use-stage-settings';
import { allAnswered } from '../store/all-here';
import { useAddVenueMutation, usePartsQuery, useVenuesQuery } from '../store/library-api';
import { useDraft } from '../store/use-draft';
import { type LiveDesk, useLiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card, Empty, Header } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { useShortcuts } from '../ui/use-shortcuts';
import { withoutName } from '../ui/why-not';
import { VenueCard } from './venue-card';

/** The venues a production plays in: the same parts, set otherwise in each. */
export function VenuesScreen() {
  const { production, loaded } = useProduction();
  const now = useLiveDesk(production?.deskId);
  const read = allAnswered(useVenuesQuery(production?.id ?? skipToken), usePartsQuery(production?.id ?? skipToken));
  if (!loaded || !read || (production && !now)) return <Loading what="Loading the venues" />;
  return production && now ? (
    <Venues production={production} now={now} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Venues({ production, now }: { readonly production: ProductionView; readonly now: LiveDesk }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: venues = [] } = useVenuesQuery(production.id);
  const { data: parts = {} } = usePartsQuery(production.id);
  const [add] = useAddVenueMutation();
  const draft = useDraft(`venue/new/${production.id}`, { name: '' });
  const { name } = draft.values;
  const [choosing, setChoosing] = useState<VenueView | null>(null);
  const { put, busy, isAtOnce } = useStageSettings();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  const count = Object.keys(parts).length;
  const go = (venue: VenueView, only?: readonly string[]) =>
    put({
      deskId: production.deskId,
      title: only
        ? `${displayName(now.profile, now.state, only[0] ?? '')} as in ${venue.name}`
        : `${production.name} in ${venue.name}`,
      settings: venueSettings(now.profile, venue.settings, parts, only),
    });
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Venues" onBack={back} />
      <Body tight>
        <AppText tone="second">
          What each part is set to in each venue, usually pan, EQ and effect lengths. Going to a venue sets all of its
          strips at once.
        </AppText>
        {count === 0 ? (
          <Card edge="care">
            <AppText>Name the parts first: venues are saved by part.</AppText>
            <Action
              asks={PART_ROUTES.setParts}
              title="Name the parts"
              onPress={() => router.navigate(`/mixes/${production.id}/parts`)}
            />
          </Card>
        ) : null}
        {venues.map((venue) => (
          <VenueCard
            key={venue.id}
            venue={venue}
            others={venues.filter(({ id, capturedAt }) => id !== venue.id && capturedAt !== null)}
            production={production}
            parts={parts}
            now={now}
            busy={busy}
            isAtOnce={isAtOnce}
            onApply={() => go(venue)}
            onChoose={() => setChoosing(venue)}
          />
        ))}
        <Field
          label="New venue"
          value={name}
          onChangeText={(typed) => draft.set({ name: typed })}
          maxLength={MAX_VENUE_NAME_LENGTH}
        />
      </Body>
      <MainAction
        asks={VENUE_ROUTES.addVenue}
        title="Add venue"
        disabled={withoutName(name)}
        onPress={() =>
          void done(add({ production: production.id, name }), () => `${name.trim()} was added.`).then(
            (made) => made && draft.forget(),
          )
        }
      />
      <Sheet
        title={choosing ? `One part, as in ${choosing.name}` : ''}
        open={choosing !== null}
        onClose={() => setChoosing(null)}
      >
        {choosing
          ? partsHeld(choosing.settings, parts).map(([strip, part]) => (
              <MenuRow
                key={strip}
                title={displayName(now.profile, now.state, strip)}
                under={part}
                onPress={() => {
                  setChoosing(null);
                  go(choosing, [strip]);
                }}
              />
            ))
          : null}
      </Sheet>
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 } });
