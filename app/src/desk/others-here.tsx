import Users from 'lucide-react-native/icons/users';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { plural } from '@old-echo/core/phrases/format-value';

import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { IconAction } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

/** What pages are about, by how their paths begin. */
const PAGES: readonly (readonly [string, string])[] = [
  ['/desk', 'the desk'],
  ['/capture', 'a capture'],
  ['/mixes', 'mixes'],
  ['/productions', 'songs and shows'],
  ['/compare', 'a comparison'],
  ['/combine', 'a combination'],
  ['/ripple', 'a change of many scenes'],
  ['/restore', 'a restore'],
  ['/library', 'the library'],
  ['/convert', 'a carry-over'],
  ['/files', 'files'],
  ['/people', 'people'],
  ['/settings', 'settings'],
];
const pageOf = (path: string): string => PAGES.find(([begin]) => path.startsWith(begin))?.[1] ?? 'another page';

/** Who else is here on other devices, and what they look at; nothing where nobody is. */
export function OthersHere() {
  const others = useAppSelector((root) => root.live.others);
  const [open, setOpen] = useState(false);
  if (others.length === 0) return null;
  return (
    <>
      <IconAction of={Users} name={`${plural(others.length, 'other')} here`} onPress={() => setOpen(true)} />
      <Sheet title="Also here" open={open} onClose={() => setOpen(false)}>
        <View style={styles.list}>
          {others.map(({ person, device, at }) => (
            <View key={`${person} ${device}`}>
              <AppText kind="strong">{person || 'Somebody at the machine itself'}</AppText>
              <AppText tone="second">{[device, `looks at ${pageOf(at)}`].filter(Boolean).join(', ')}</AppText>
            </View>
          ))}
          <Action title="Close" onPress={() => setOpen(false)} />
        </View>
      </Sheet>
    </>
  );
}

const styles = StyleSheet.create({ list: { gap: SPACE.m, paddingBottom: SPACE.s } });
