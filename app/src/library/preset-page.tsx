import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Star from 'lucide-react-native/icons/star';
import StarOff from 'lucide-react-native/icons/star-off';

import { singleStrip, PROCESSORS } from '@old-echo/core/library/preset';
import type { PresetDetail } from '@old-echo/core/contracts/preset';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { plural, sectionName, withArticle } from '@old-echo/core/desk/format-value';
import { presetSections } from '@old-echo/core/library/preset';

import {
  toApiFault,
  useBinMutation,
  useEditPresetMutation,
  useNewEditionMutation,
  usePresetQuery,
  useProfileQuery,
} from '../store/api';
import { useAppSelector } from '../store/store';
import { Action, Footer } from '../ui/buttons';
import { IconAction, MenuRow, MoreAction } from '../ui/menu';
import { Body, Card, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { LoadError, Loading } from '../components/loading';
import { AppText } from '../ui/app-text';
import { when } from '../components/format-time';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useShortcuts } from '../ui/use-shortcuts';
import { PresetUsage } from './preset-usage';
import { putHref } from '../components/links/library-link';
import { PresetPictures } from './preset-charts';
import { PresetSheet } from '../components/presets/preset-sheet';
import { presetTypeLabel } from './preset-label';

/** A preset: what it does, drawn, before it is put anywhere. */
export function PresetPage({ id, onBack }: { readonly id: string; readonly onBack: () => void }) {
  const { data: preset, error, refetch } = usePresetQuery(id);
  const profile = useProfileQuery(preset?.profileId ?? '', { skip: !preset }).data;
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  return preset && profile ? (
    <PresetDetailView preset={preset} profile={profile} onBack={onBack} />
  ) : (
    <Loading what="Opening the preset" />
  );
}

function PresetDetailView({ preset, profile, onBack }: { preset: PresetDetail; profile: Profile; onBack: () => void }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const [edit] = useEditPresetMutation();
  const [editing, setEditing] = useState(false);
  const [more, setMore] = useState(false);
  const selected = useAppSelector((root) => root.selection);
  const { id, name, content, revision } = preset;
  const favour = () =>
    void done(edit({ id, edit: { favourite: !preset.favourite, revision } }), () =>
      preset.favourite ? `${name} is no favourite any more.` : `${name} is a favourite.`,
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
              of={preset.favourite ? StarOff : Star}
              name={preset.favourite ? 'No favourite any more' : 'Make it a favourite'}
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
        ) : preset.kind === 'kit' ? (
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
        <Card>
          <Fact name="Holds" value={presetSections(profile, content).map(sectionName).join(', ')} />
          {one ? null : <Fact name="Strips" value={String(Object.keys(content).length)} />}
          {preset.folder ? <Fact name="Folder" value={preset.folder} /> : null}
          {preset.tags.length > 0 ? <Fact name="Tags" value={preset.tags.join(', ')} /> : null}
          <Fact name="Made on" value={preset.madeOn || profile.name} />
          <Fact name="Made" value={[when(preset.madeAt), preset.by].filter(Boolean).join(', by ')} />
          {preset.earlier.length > 0 ? <Fact name="Edition" value={String(preset.edition)} /> : null}
          {preset.starts ? <Fact name="Fresh ones" value="start from this" /> : null}
        </Card>
      </Body>
      <Footer>
        <Action
          kind="main"
          grow
          title={
            preset.kind === 'patch' || preset.kind === 'template'
              ? 'Put on the desk'
              : preset.kind === 'kit'
                ? 'Put this kit in'
                : selected.length > 0
                  ? `Put on ${plural(selected.length, 'strip')}`
                  : 'Put on strips'
          }
          onPress={put}
        />
      </Footer>
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
      <MenuRow title="Edit name, folder, tags and note" onPress={then(onEdit)} />
      {preset.kind === 'processor' || preset.kind === 'strip' ? (
        <MenuRow
          title={preset.starts ? 'Fresh ones no longer start from it' : 'Let fresh ones start from it'}
          under={
            preset.kind === 'strip'
              ? 'A strip that is made fresh on its page begins so'
              : PROCESSORS.map(sectionName).includes(preset.gist)
                ? `${withArticle(preset.gist)} that is switched on for the first time begins so`
                : `${withArticle(preset.gist)} that is loaded on a strip begins so`
          }
          onPress={then(() => {
            void done(edit({ id, edit: { starts: !preset.starts, revision } }), (now) =>
              now.starts ? `Fresh ones start from ${name}.` : `Fresh ones start as the desk has them.`,
            );
          })}
        />
      ) : null}
      <MenuRow title="Save as a file" onPress={then(() => window.location.assign(`/api/files/presets/${id}`))} />
      {preset.earlier.map(({ edition, madeAt, by: whose }) => (
        <MenuRow
          key={edition}
          title={`Have edition ${edition} back`}
          under={[when(madeAt), whose].filter(Boolean).join(', by ')}
          onPress={then(() => {
            void done(
              write({ id, edition: { edition, by, revision } }),
              () => `${name} is as edition ${edition} again.`,
            );
          })}
        />
      ))}
      <MenuRow
        title="To the bin"
        under="It can come back from there"
        onPress={then(() => {
          void done(bin(`presets/${id}`), () => `${name} is in the bin.`, { url: `/presets/${id}/back` }).then(
            (went) => went && router.navigate('/library'),
          );
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
