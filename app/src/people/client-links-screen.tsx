import dayjs from 'dayjs';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ClientLinkView, MadeClientLink } from '@old-echo/core/contracts/client-link';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { CLIENT_LINK_ROUTES } from '@old-echo/core/contracts/routes/client-routes';
import { plural } from '@old-echo/core/phrases/format-value';

import { AddressOfLink } from '../components/audition/address-of-link';
import { whenInText } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { toApiFault } from '../store/api';
import { useClientLinksQuery, useRenewClientLinkMutation, useWithdrawClientLinkMutation } from '../store/client-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';

/** The links to mixes of a song or show: who hears what, and what they said. */
export function ClientLinksScreen() {
  const { production, loaded } = useProduction();
  if (production) return <Links production={production} />;
  return loaded ? (
    <Empty title="This song or show no longer exists">It may be in the bin.</Empty>
  ) : (
    <Loading what="Loading the links" />
  );
}

function Links({ production: { id, name } }: { readonly production: ProductionView }) {
  const router = useRouter();
  const { data: links, error, refetch } = useClientLinksQuery(id);
  const [made, setMade] = useState<MadeClientLink | null>(null);
  const back = () => (router.canGoBack() ? router.back() : router.replace(`/mixes/${id}/about`));
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  if (!links) return <Loading what="Loading the links" />;
  return (
    <View style={styles.fill}>
      <Header over={name} title="Links for clients" onBack={back} />
      <Body>
        <View style={styles.column}>
          {links.map((link) => (
            <Link key={link.id} link={link} onMade={setMade} />
          ))}
          {links.length === 0 ? (
            <Empty title="No link was made yet">
              Compare two mixes by ear, then send both: as files, or as a link that plays them.
            </Empty>
          ) : null}
        </View>
      </Body>
      {made ? (
        <Sheet title={`Link for ${made.link.name}`} open onClose={() => setMade(null)}>
          <AddressOfLink made={made} onClose={() => setMade(null)} />
        </Sheet>
      ) : null}
    </View>
  );
}

interface LinkProps {
  readonly link: ClientLinkView;
  readonly onMade: (made: MadeClientLink) => void;
}

function Link({ link, onMade }: LinkProps) {
  const done = useRunAndNotify();
  const [renew, { isLoading: isRenewing }] = useRenewClientLinkMutation();
  const [withdraw, { isLoading }] = useWithdrawClientLinkMutation();
  const [asking, setAsking] = useState<'renew' | 'withdraw' | null>(null);
  const { id, name, mixes, endsAt, withdrawnAt, opened, openedAt, favourite, approved, notes, asksWord, mayDownload } =
    link;
  const hasEnded = withdrawnAt !== null || dayjs(endsAt).isBefore(dayjs());
  const isGood = withdrawnAt
    ? 'withdrawn'
    : `${hasEnded ? 'ended' : 'good until'} ${dayjs(endsAt).format('D MMM YYYY')}`;
  const renewed = async () => {
    const made = await done(renew(id), () => 'The address of before leads nowhere any more.');
    setAsking(null);
    if (made) onMade(made);
  };
  const withdrawn = async () => {
    await done(withdraw(id), () => `${name} hears nothing by it any more.`);
    setAsking(null);
  };
  const facts = [
    opened === 0 ? 'not opened yet' : `opened ${plural(opened, 'time')}, last ${whenInText(openedAt ?? '')}`,
    notes > 0 && plural(notes, 'note'),
    asksWord && 'asks for a word',
    mayDownload && 'may be saved',
  ];
  return (
    <Card edge={approved ? 'done' : undefined}>
      <AppText kind="strong">{name}</AppText>
      <AppText>{mixes.map((mix) => mix.name).join(' and ')}</AppText>
      <AppText kind="small" tone={hasEnded ? 'stop' : 'second'}>
        {isGood}
      </AppText>
      <AppText kind="small" tone="second">
        {facts.filter(Boolean).join(' · ')}
      </AppText>
      {favourite ? (
        <AppText>
          {favourite.by} likes {mixes[favourite.mix]?.name} better.
        </AppText>
      ) : null}
      {approved ? (
        <AppText kind="strong" tone="done">
          {mixes[approved.mix]?.name} is approved by {approved.by}.
        </AppText>
      ) : null}
      <ChipRow>
        <Action
          asks={CLIENT_LINK_ROUTES.renewClientLink}
          kind="small"
          title="New address …"
          onPress={() => setAsking('renew')}
        />
        {hasEnded ? null : (
          <Action
            asks={CLIENT_LINK_ROUTES.withdrawClientLink}
            kind="small"
            title="Withdraw …"
            onPress={() => setAsking('withdraw')}
          />
        )}
      </ChipRow>
      {asking === null ? null : (
        <Sheet
          title={asking === 'renew' ? `A new address for ${name}?` : `Withdraw the link of ${name}?`}
          open
          onClose={() => setAsking(null)}
        >
          <View style={styles.ask}>
            <AppText>
              The address that was sent leads nowhere from then on, also for whoever has it open. What was said and
              noted stays.
            </AppText>
            {asking === 'renew' ? (
              <Action kind="main" title="Make a new address" busy={isRenewing} onPress={() => void renewed()} />
            ) : (
              <Action kind="main" title="Withdraw" busy={isLoading} onPress={() => void withdrawn()} />
            )}
            <Action title="Cancel" onPress={() => setAsking(null)} />
          </View>
        </Sheet>
      )}
    </Card>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { gap: SPACE.m, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  ask: { gap: SPACE.m, paddingBottom: SPACE.s },
});
