import { useRouter } from 'expo-router';
import { useState } from 'react';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { defaultValue, stripFamily } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { displayName } from '@old-echo/core/desk/state';
import { putOnStrips, SOUND_SECTIONS } from '@old-echo/core/library/apply-preset';
import { filterSettings } from '@old-echo/core/library/convert-strip';
import { presetContent } from '@old-echo/core/library/preset';
import { familyName } from '@old-echo/core/phrases/preset-label';

import { chosen } from '../../store/selection-slice';
import { useAppDispatch } from '../../store/store';
import type { LiveDesk } from '../../store/use-live-desk';
import { MenuRow, MoreAction } from '../../ui/menu';
import { Sheet } from '../../ui/sheet';
import { useShortcuts } from '../../ui/use-shortcuts';
import { putHref } from '../links/library-link';
import { useStageSettings } from '../use-stage-settings';
import { PresetSheet } from './preset-sheet';
import { SaveFrom } from './save-preset-sheet';
import { useDefaultPresets } from './use-default-preset';

/** What can be done with a strip as a whole: saved, copied to others, begun afresh. */
export function StripMenu({ now, strip }: { readonly now: LiveDesk; readonly strip: string }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState(false);
  const [saving, setSaving] = useState<'strip' | 'part' | null>(null);
  const starting = useDefaultPresets();
  const { put } = useStageSettings();
  const { profile, state, desk } = now;
  const name = displayName(profile, state, strip);
  useShortcuts({ '.': () => setOpen(true) });
  const then = (act: () => void) => () => {
    setOpen(false);
    act();
  };
  const fresh = starting.strip(familyName(profile, strip));
  const afresh = () => {
    const family = stripFamily(profile, strip);
    const blank: Record<string, Value> = {};
    for (const [key, spec] of Object.entries(family?.settings ?? {}))
      blank[`${strip}/${key}`] = defaultValue(profile, strip, spec);
    void (fresh ? fresh.whole() : Promise.resolve(undefined)).then((source) => {
      const options = { sections: new Set(SOUND_SECTIONS), withPatch: false };
      const landed = source ? putOnStrips(source, profile, state, [strip], options).settings : {};
      const stays = (section: string) => section === 'source' || section === 'label' || section === 'view';
      const own = Object.fromEntries(
        Object.entries({ ...blank, ...landed }).map(([address, value]) => [address.slice(strip.length + 1), value]),
      );
      const settings = filterSettings(own, (section) => !stays(section));
      put({
        deskId: desk.id,
        title: `${name} reset`,
        settings: Object.fromEntries(Object.entries(settings).map(([key, value]) => [`${strip}/${key}`, value])),
      });
    });
  };
  return (
    <>
      <MoreAction of={name} onPress={() => setOpen(true)} />
      <Sheet title={name} open={open} onClose={() => setOpen(false)}>
        <MenuRow
          asks={PRESET_ROUTES.savePreset}
          title="Save to the library …"
          under="All of its sections"
          onPress={then(() => setSaving('strip'))}
        />
        <MenuRow
          asks={PRESET_ROUTES.savePreset}
          title="Save something from it …"
          under="One processor, its bus, or a strip set with what it feeds"
          onPress={then(() => setSaving('part'))}
        />
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Apply a preset"
          onPress={then(() => {
            dispatch(chosen([strip]));
            router.navigate('/library');
          })}
        />
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Copy to other strips"
          under="Choose sections and strips next"
          onPress={then(() => router.navigate(putHref({ strip })))}
        />
        <MenuRow
          asks={DESK_ROUTES.moveSettings}
          title="Reset strip"
          under={fresh ? `To ${fresh.name}; name and source stay` : 'To the desk’s defaults; name and source stay'}
          onPress={then(afresh)}
        />
      </Sheet>
      <SaveFrom
        profile={profile}
        state={state}
        madeOn={desk.name}
        strips={[strip]}
        open={saving === 'part'}
        onClose={() => setSaving(null)}
      />
      {saving === 'strip' ? (
        <PresetSheet
          savable={{
            kind: 'strip',
            name,
            profileId: profile.id,
            madeOn: desk.name,
            content: presetContent('strip', profile, state, strip),
          }}
          onClose={() => setSaving(null)}
        />
      ) : null}
    </>
  );
}
