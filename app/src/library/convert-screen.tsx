import { skipToken } from '@reduxjs/toolkit/query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ConversionRequest } from '@old-echo/core/contracts/conversion';
import { CONVERSION_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { plural } from '@old-echo/core/phrases/format-value';

import { IntoChips } from '../components/into-chips';
import { LoadError, Loading } from '../components/loading';
import { useProductionProfile } from '../components/use-production-profile';
import { toApiFault } from '../store/api';
import { useDesksQuery, useProfileQuery } from '../store/desk-api';
import { useConversionPreviewQuery, useStartConversionMutation } from '../store/library-api';
import { useProductionsQuery, useSceneQuery } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText, Sentence } from '../ui/app-text';
import { Chip, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { useShortcuts } from '../ui/use-shortcuts';
import { IncludePatch } from './include-patch';
import { StripMatches } from './strip-matches';
import { WhichSections } from './which-sections';

/** Carries a scene, a version or a whole production over to another desk: to which, who goes where, and what cannot come. */
export function ConvertScreen() {
  const {
    production: id,
    version,
    scene,
  } = useLocalSearchParams<{
    production?: string;
    version?: string;
    scene?: string;
  }>();
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: productions } = useProductionsQuery();
  const { data: desks } = useDesksQuery();
  const sceneView = useSceneQuery(scene ?? skipToken).data;
  const [deskId, setDeskId] = useState<string | null>(null);
  const [versionId, setVersionId] = useState<string | null>(version ?? null);
  const [hands, setHands] = useState<Readonly<Record<string, string | null>>>({});
  const [withPatch, setWithPatch] = useState(false);
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [intoId, setIntoId] = useState<string | null>(null);
  const production = productions?.find((one) => one.id === id);
  const from = useProductionProfile(production);
  const held = SECTIONS.filter((section) => from?.families.some((family) => family.sections.includes(section)));
  const sections = new Set(held.filter((section) => !without.has(section)));
  const request: ConversionRequest | undefined =
    production && deskId && sections.size > 0
      ? {
          productionId: production.id,
          versionId,
          sceneId: scene ?? null,
          deskId,
          hands,
          withPatch,
          without: [...without],
        }
      : undefined;
  const { data: preview, error, isFetching, refetch } = useConversionPreviewQuery(request ?? skipToken);
  const [begin, { isLoading }] = useStartConversionMutation();
  const target = desks?.find((desk) => desk.id === deskId);
  const profile = useProfileQuery(target?.profileId ?? skipToken).data;
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/mixes'));
  useShortcuts({ Escape: back });
  if (!productions || !desks) return <Loading what="Loading the desks" />;
  if (!production) return <Empty title="This song or show no longer exists">Choose another under Mixes.</Empty>;
  const others = desks.filter((desk) => desk.id !== production.deskId && !desk.removedAt);
  const what = sceneView ? sceneTitle(sceneView) : production.name;
  const here = productions.filter((one) => one.deskId === deskId && one.binnedAt === null);
  const left = preview?.matches.filter(({ to }) => to === null).length ?? 0;
  const go = () =>
    request &&
    void done(begin({ ...request, intoId, name: '' }), () => '').then(
      (made) => made && router.replace(`/convert/${made.id}`),
    );
  return (
    <View style={styles.fill}>
      <Header over="Carry over to another desk" title={what} onBack={back} />
      <Body tight>
        <AppText kind="strong">To which desk</AppText>
        <ChipRow role="tablist">
          {others.map((desk) => (
            <Chip
              key={desk.id}
              title={desk.name}
              chosen={desk.id === deskId}
              onPress={() => {
                setDeskId(desk.id);
                setHands({});
                setIntoId(null);
              }}
            />
          ))}
        </ChipRow>
        {scene === undefined && production.versions.length > 1 ? (
          <ChipRow role="tablist">
            <Chip title="All versions" chosen={versionId === null} onPress={() => setVersionId(null)} />
            {production.versions.map(({ id: one, name }) => (
              <Chip key={one} title={name} chosen={versionId === one} onPress={() => setVersionId(one)} />
            ))}
          </ChipRow>
        ) : null}
        {target ? <IntoChips into={here} orNew intoId={intoId} onInto={setIntoId} /> : null}
        {target ? (
          <WhichSections
            held={held}
            chosen={sections}
            onChange={(next) => setWithout(new Set(held.filter((section) => !next.has(section))))}
          />
        ) : null}
        {error ? <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} /> : null}
        {!deskId ? (
          <Empty title="Choose a desk">
            Strips are matched by part, then by name. You see the matches before anything is created.
          </Empty>
        ) : null}
        {preview && target && profile ? (
          <>
            <Sentence
              phrases={[
                { text: plural(preview.matches.length - left, 'strip'), tone: 'bold' },
                { text: ' matched on ' },
                { text: target.name, tone: 'bold' },
                { text: left > 0 ? '; ' : '.' },
                ...(left > 0
                  ? [{ text: plural(left, 'strip'), tone: 'bold' as const }, { text: ' left behind.' }]
                  : []),
              ]}
            />
            <StripMatches
              preview={preview}
              profile={profile}
              onHand={(from, to) => {
                // Whoever stood there before looks for another place; what stays behind stands nowhere.
                const other = preview.matches.find((match) => to !== null && match.to === to && match.from !== from);
                const { [other?.from ?? '']: _, ...rest } = hands;
                setHands({ ...rest, [from]: to });
              }}
            />
            <IncludePatch
              under="Where both desks have the same socket. If off, the desk keeps its own."
              included={withPatch}
              onChange={setWithPatch}
            />
          </>
        ) : deskId && !error ? (
          <Loading what="Matching the strips" />
        ) : null}
        {preview && target ? (
          <Card>
            <AppText tone="second">Creates scenes for {target.name}. Nothing is sent to it.</AppText>
          </Card>
        ) : null}
      </Body>
      <MainAction
        asks={CONVERSION_ROUTES.startConversion}
        busy={isLoading || isFetching}
        title={preview ? `Carry over ${plural(preview.scenes, 'scene')}` : 'Choose a desk'}
        disabled={
          (!deskId && 'Choose the desk it goes to first.') ||
          (sections.size === 0 && 'Choose a section first.') ||
          (!preview && 'It is still being matched.')
        }
        onPress={go}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
