import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useState } from 'react';

import type { PresetDetail } from '@old-echo/core/contracts/preset';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { putOnStrips, SOUND_SECTIONS } from '@old-echo/core/library/apply-preset';

import { AuditionBar } from '../components/audition/audition-bar';
import { useAudition } from '../components/audition/use-audition';
import { useProductionProfile } from '../components/use-production-profile';
import { useProductionsQuery, useSceneStateQuery } from '../store/scenes-api';
import { useStemsQuery } from '../store/sound-api';
import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Card } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';

interface HearPresetProps {
  readonly preset: PresetDetail;
  /** Of the desk it was made on. */
  readonly profile: Profile;
}

/** A preset of one strip by ear, before it is put anywhere: on a stem of a song, without it and with it, as loud as one another. */
export function HearPreset({ preset, profile }: HearPresetProps) {
  const { data: productions = [] } = useProductionsQuery();
  const last = useAppSelector((root) => root.place.productionId);
  const [picked, setPicked] = useState<string | null>(null);
  const withScenes = productions.filter((one) => !one.binnedAt && newestScene(one) !== undefined);
  const production = withScenes.find(({ id }) => id === (picked ?? last)) ?? withScenes[0];
  if (!production) return null;
  return (
    <Card>
      <AppText kind="heading">By ear</AppText>
      {withScenes.length > 1 ? (
        <ChipRow role="tablist">
          {withScenes.map(({ id, name }) => (
            <Chip key={id} title={name} chosen={id === production.id} onPress={() => setPicked(id)} />
          ))}
        </ChipRow>
      ) : null}
      <InSong key={production.id} preset={preset} profile={profile} production={production} />
    </Card>
  );
}

const newestScene = ({ versions }: ProductionView): string | undefined =>
  versions.flatMap(({ binnedAt, newestSceneId }) => (binnedAt ? [] : (newestSceneId ?? []))).at(0);

function InSong({ preset, profile, production }: HearPresetProps & { readonly production: ProductionView }) {
  const sceneId = newestScene(production);
  const { data: state } = useSceneStateQuery(sceneId ?? skipToken);
  const to = useProductionProfile(production);
  const { data: stems } = useStemsQuery(production.id);
  const [picked, setPicked] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const router = useRouter();
  if (!state || !to || !stems || !sceneId) return <AppText tone="second">Looking for stems …</AppText>;
  const sounding = stems.filter(({ strip, silent }) => !silent && strip in state);
  const strip = picked ?? sounding[0]?.strip;
  if (strip === undefined)
    return (
      <>
        <AppText tone="second">{production.name} has no stems to hear it on.</AppText>
        <Action kind="small" title="Attach stems" onPress={() => router.navigate(`/mixes/${production.id}/stems`)} />
      </>
    );
  return (
    <>
      <MenuRow
        title={`On ${displayName(to, state, strip)}`}
        under="Choose another strip that has a stem"
        onPress={() => setOpen(true)}
      />
      <OnStem key={strip} {...{ preset, profile, to, state, strip, sceneId }} productionId={production.id} />
      <Sheet title="Hear it on" open={open} onClose={() => setOpen(false)}>
        {sounding.map((stem) => (
          <Option
            key={stem.strip}
            title={displayName(to, state, stem.strip)}
            under={stem.name}
            chosen={stem.strip === strip}
            onPress={() => {
              setPicked(stem.strip);
              setOpen(false);
            }}
          />
        ))}
      </Sheet>
    </>
  );
}

interface OnStemProps extends HearPresetProps {
  readonly productionId: string;
  readonly sceneId: string;
  /** The kind of desk that the song is made on. */
  readonly to: Profile;
  /** What that scene holds. */
  readonly state: State;
  readonly strip: string;
}

function OnStem({ preset, profile, productionId, sceneId, to, state, strip }: OnStemProps) {
  const sections = new Set(SOUND_SECTIONS);
  const { settings } = putOnStrips({ ...preset, profile }, to, state, [strip], { sections, withPatch: false });
  const side = { sceneId, profile: to, state };
  const audition = useAudition(productionId, side, { ...side, settings }, strip);
  if (!audition) return null;
  return (
    <>
      <AppText kind="small" tone="second">
        A without it, B with it.
      </AppText>
      <AuditionBar audition={audition} title="Listen" />
    </>
  );
}
