import type { SettingChange } from '@old-echo/core/desk/diff-states';
import type { Family, Profile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import type { State, StripState } from '@old-echo/core/desk/state';
import { formatValue, settingName } from '@old-echo/core/phrases/format-value';

import { GroupRow } from './group-row';
import { type SettingGroup, settingGroups } from './setting-groups';
import { SettingControl, SettingRow } from './setting-row';

interface SectionSettingsProps {
  readonly profile: Profile;
  readonly family: Family;
  readonly strip: string;
  readonly section: string;
  readonly names: State;
  readonly settings: StripState;
  readonly drifted: readonly SettingChange[];
  readonly onMove: ((address: string, value: Value, done: boolean, from: Value) => void) | undefined;
}

/** Everything a section holds: single settings as rows, bands, slots and sends as rows that open. */
export function SectionSettings(props: SectionSettingsProps) {
  const { profile, family, strip, section, names, settings, drifted, onMove } = props;
  const { singles, groups } = settingGroups(family, section, settings);
  const echo = (key: string) => drifted.find((change) => change.key === key)?.was;
  const row = (key: string, name: string) => (
    <SettingRow
      key={key}
      spec={family.settings[key]}
      address={`${strip}/${key}`}
      name={name}
      value={settings[key]}
      echo={echo(key)}
      onMove={onMove}
    />
  );
  return (
    <>
      {singles.map((key) => row(key, settingName(profile, key, names)))}
      {groups.map((group) => {
        const name = settingName(profile, `${section}/${group.part}`, names);
        const level = group.keys.find((key) => key.endsWith('/level'));
        const moved = group.keys.filter((key) => echo(key) !== undefined).length;
        return (
          <GroupRow
            key={group.part}
            name={name}
            gist={summarise(family, group, settings)}
            drifted={moved}
            main={
              level ? (
                <SettingControl
                  spec={family.settings[level]}
                  address={`${strip}/${level}`}
                  name={`${name} level`}
                  value={settings[level]}
                  echo={echo(level)}
                  onMove={onMove}
                />
              ) : undefined
            }
          >
            {() =>
              group.keys
                .filter((key) => key !== level)
                .map((key) => row(key, settingName(profile, `${section}/${key.split('/').slice(2).join('/')}`, names)))
            }
          </GroupRow>
        );
      })}
    </>
  );
}

/** "low shelf · 190 Hz · −2.5 dB · Q 0.7". A loaded slot is named while it is off: "drive · off". */
function summarise(family: Family, { part, keys }: SettingGroup, settings: StripState): string {
  const on = keys.find((key) => key.endsWith(`/${part}/on`));
  const kind = keys.find((key) => key.endsWith(`/${part}/kind`));
  const off = on !== undefined && settings[on] === false;
  const loaded = part !== '' && kind?.startsWith('inserts/') && settings[kind] !== 'empty';
  if (off && !loaded) return 'off';
  const words = keys
    .filter((key) => key !== on && key.split('/').length === 3)
    .flatMap((key) => {
      const spec = family.settings[key];
      return spec ? [formatValue(spec, settings[key])] : [];
    });
  return [...words, ...(off ? ['off'] : [])].join(' · ');
}
