import { useRouter } from 'expo-router';
import Star from 'lucide-react-native/icons/star';
import StarOff from 'lucide-react-native/icons/star-off';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { PresetDetail } from '@old-echo/core/contracts/preset';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { EXPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { presetSections, PROCESSORS, singleStrip } from '@old-echo/core/library/preset';
import { plural, sectionName, withArticle } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { putHref } from '../components/links/library-link';
import { LoadError, Loading } from '../components/loading';
import { PresetSheet } from '../components/presets/preset-sheet';
import { toApiFault } from '../store/api';
import { addressOf, ask } from '../store/ask';
import { useProfileQuery } from '../store/desk-api';
import { useEditPresetMutation, useNewEditionMutation, usePresetQuery } from '../store/library-api';
import { useBinMutation } from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { MainAction } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { IconAction, MenuRow, MoreAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { HearPreset } from './hear-preset';
import { PresetPictures } from './preset-charts';
import { presetTypeLabel } from './preset-label';
import { PresetUsage } from './preset-usage';

/** A preset: what it does, drawn, before it is put anywhere. */
export function PresetPage({ id, onBack }: { readonly id: string; readonly onBack: () => void }) {
  const { data: preset, error, refetch } = usePresetQuery(id);
  const profile = useProfileQuery(preset?.profileId ?? '', { skip: !preset }).data;
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  return preset && profile ? (
    <PresetDetailView preset={preset} profile={profile} onBack={onBack} />
  ) : (
    <Loading what="Loading the preset" />
  );
}

function PresetDetailView({ preset, profile, onBack }: { preset: PresetDetail; profile: Profile; onBack: () => void }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [edit] = useEditPresetMutation();
  const [editing, setEditing] = useState(false);
  const [more, setMore] = useState(false);
  const selected = useAppSelector((root) => root.selection.strips);
  const { id, name, content, revision } = preset;
  const favour = () =>
    void done(edit({ id, edit: { favourite: !preset.favourite, revision } }), () =>
      preset.favourite ? `${name} removed from favourites.` : `${name} added to favourites.`,
    );
  const put = () => router.navigate(putHref({ preset: id }, selected));
  useShortcuts({ r: put, e: () => setEditing(true), '.': () => setMore(true) });
  const one = Object.keys(content).length === 1;
  return (
    <View style={styles.fill}>
      <Header
        over={presetTypeLabel(preset)}
        title={name}
        onBack={onBack}
        side={
          <>
            <IconAction
              asks={PRESET_ROUTES.editPreset}
              of={preset.favourite ? StarOff : Star}
              name={preset.favourite ? 'Remove from favourites' : 'Add to favourites'}
              onPress={favour}
            />
            <MoreAction of={name} onPress={() => setMore(true)} />
          </>
        }
      />
      <Body tight>
        {preset.note ? <AppText testID="preset-note">{preset.note}</AppText> : null}
        <PresetUsage preset={preset} />
        {one ? (
          <Card>
            <PresetPictures
              profile={profile}
              strip={singleStrip(content)}
              settings={content[singleStrip(content)] ?? {}}
            />
          </Card>
        ) : preset.kind === 'strip set' ? (
          Object.entries(content).map(([strip, settings]) => (
            <Card key={strip}>
              <AppText kind="heading">{displayName(profile, content, strip)}</AppText>
              <AppText kind="small" tone="second">
                {profile.plainNames[strip]}
              </AppText>
              <PresetPictures profile={profile} strip={strip} settings={settings} />
            </Card>
          ))
        ) : null}
        {preset.kind === 'strip' || preset.kind === 'processor' ? (
          <HearPreset key={preset.id} preset={preset} profile={profile} />
        ) : null}
        <Card>
          <Fact name="Sections" value={presetSections(profile, content).map(sectionName).join(', ')} />
          {one ? null : <Fact name="Strips" value={String(Object.keys(content).length)} />}
          {preset.folder ? <Fact name="Folder" value={preset.folder} /> : null}
          {preset.tags.length > 0 ? <Fact name="Tags" value={preset.tags.join(', ')} /> : null}
          <Fact name="Made on" value={preset.madeOn || profile.name} />
          <Fact name="Saved" value={[when(preset.madeAt), preset.by].filter(Boolean).join(', by ')} />
          {preset.earlier.length > 0 ? <Fact name="Edition" value={String(preset.edition)} /> : null}
          {preset.starts ? <Fact name="Default" value="for new ones" /> : null}
        </Card>
      </Body>
      <MainAction
        asks={DESK_ROUTES.moveSettings}
        title={
          preset.kind === 'patch' || preset.kind === 'template'
            ? 'Apply to the desk …'
            : preset.kind === 'strip set'
              ? 'Apply this set …'
              : selected.length > 0
                ? `Apply to ${plural(selected.length, 'strip')} …`
                : 'Apply to strips …'
        }
        onPress={put}
      />
      {editing ? <PresetSheet preset={preset} onClose={() => setEditing(false)} /> : null}
      <More preset={preset} open={more} onClose={() => setMore(false)} onEdit={() => setEditing(true)} />
    </View>
  );
}

function Fact({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <View style={styles.fact}>
      <AppText tone="second" style={styles.name}>
        {name}
      </AppText>
      <AppText style={styles.fill}>{value}</AppText>
    </View>
  );
}

interface MoreProps {
  readonly preset: PresetDetail;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onEdit: () => void;
}

/** What else can be done with a preset. */
function More({ preset, open, onClose, onEdit }: MoreProps) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [bin] = useBinMutation();
  const [edit] = useEditPresetMutation();
  const [write] = useNewEditionMutation();
  const by = useAppSelector((root) => root.place.who);
  const { id, name, revision } = preset;
  const then = (act: () => void) => () => {
    onClose();
    act();
  };
  return (
    <Sheet title={name} open={open} onClose={onClose}>
      <MenuRow asks={PRESET_ROUTES.editPreset} title="Edit name, folder, tags and note" onPress={then(onEdit)} />
      {preset.kind === 'processor' || preset.kind === 'strip' ? (
        <MenuRow
          asks={PRESET_ROUTES.editPreset}
          title={preset.starts ? 'Stop using as the default' : 'Use as the default'}
          under={
            preset.kind === 'strip'
              ? '“Reset strip” goes to it'
              : PROCESSORS.map(sectionName).includes(preset.gist)
                ? `${withArticle(preset.gist)} switched on for the first time starts from it`
                : `Every newly loaded ${preset.gist} starts from it`
          }
          onPress={then(() => {
            void done(edit({ id, edit: { starts: !preset.starts, revision } }), (now) =>
              now.starts ? `${name} is the default now.` : `No preset is the default now.`,
            );
          })}
        />
      ) : null}
      <MenuRow
        asks={EXPORT_ROUTES.exportPreset}
        title="Save as a file"
        onPress={then(() => window.location.assign(addressOf(EXPORT_ROUTES.exportPreset, { params: { id } })))}
      />
      {preset.earlier.map(({ edition, madeAt, by: whose }) => (
        <MenuRow
          asks={PRESET_ROUTES.updatePreset}
          key={edition}
          title={`Go back to edition ${edition}`}
          under={[when(madeAt), whose].filter(Boolean).join(', by ')}
          onPress={then(() => {
            void done(
              write({ id, edition: { edition, by, revision } }),
              () => `${name} is back to edition ${edition}.`,
            );
          })}
        />
      ))}
      <MenuRow
        asks={PRESET_ROUTES.binPreset}
        title="Move to the bin"
        under="You can take it out again"
        onPress={then(() => {
          void done(
            bin(`presets/${id}`),
            () => `${name} is in the bin.`,
            ask(PRESET_ROUTES.unbinPreset, { params: { id } }),
          ).then((went) => went && router.navigate('/library'));
        })}
      />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  fact: { flexDirection: 'row', gap: SPACE.m },
  name: { width: 84 },
});
