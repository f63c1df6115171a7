import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { manualStrips } from '@old-echo/core/desk/manual';
import { stripFamily } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { displayName } from '@old-echo/core/desk/state';
import { sectionName, settingName } from '@old-echo/core/phrases/format-value';

import { Loading } from '../components/loading';
import { deskHref } from '../store/desk-address';
import { useDraft } from '../store/use-draft';
import { type LiveDesk, stripDrift, useBaseline, useLiveDesk, whyLocked, whyNotLinked } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipLine } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { ByEyeSetting } from './by-eye-setting';
import { canRename, RenameStripSheet } from './rename-strip-sheet';
import { StripPhoto } from './strip-photo';
import { useMoveSetting } from './use-move-setting';

/** A desk that is turned by hand is captured by eye: strip after strip is read, and what differs is said. */
export function ByEyeScreen() {
  const now = useLiveDesk();
  if (!now?.known) return <Loading what="Loading the desk" />;
  const strips = manualStrips(now.profile);
  return strips.length > 0 ? (
    <ByEye key={now.desk.id} now={now} strips={strips} />
  ) : (
    <Empty title={`${now.desk.name} is read by itself`}>
      None of it is turned by hand. Capture a scene on the desk.
    </Empty>
  );
}

function ByEye({ now, strips }: { readonly now: LiveDesk; readonly strips: readonly string[] }) {
  const { desk, profile, state } = now;
  const router = useRouter();
  const was = useBaseline();
  const move = useMoveSetting(desk.id, 'alone');
  // Where one is stays when one looks elsewhere, or the page is opened anew.
  const { values: place, set } = useDraft(`by-eye/${desk.id}`, { at: 0 });
  const [isRenaming, setRenaming] = useState(false);
  const at = Math.min(place.at, strips.length - 1);
  const strip = strips[at] ?? '';
  const family = stripFamily(profile, strip);
  const settings = state[strip] ?? {};
  const differs = was ? strips.flatMap((one) => stripDrift(profile, one, was, state)) : [];
  const own = new Map(differs.filter((change) => change.strip === strip).map((change) => [change.key, change.was]));
  const movable = whyLocked(desk) || whyNotLinked(now) ? undefined : move;
  const back = () => router.navigate(`/desk/${desk.id}`);
  const capture = () => router.navigate(deskHref(desk.id, 'capture'));
  const isLast = at === strips.length - 1;
  const next = () => (isLast ? capture() : set({ at: at + 1 }));
  useShortcuts({ n: next, p: () => at > 0 && set({ at: at - 1 }) });
  const sections = [...(family?.sections ?? [])].sort((a, b) => rank(a) - rank(b));
  const name = displayName(profile, state, strip);
  return (
    <View style={styles.fill}>
      <Header
        over={`By eye · ${desk.name} · strip ${at + 1} of ${strips.length}`}
        title={name}
        onTitle={canRename(now, strip) ? () => setRenaming(true) : undefined}
        titleDoes="rename"
        under={
          desk.baseline
            ? `${own.size} moved here, ${differs.length} in all, since ${desk.baseline.line}`
            : 'The first scene on this desk'
        }
        onBack={back}
        side={<Action kind="quiet" title="Capture" disabled={whyNotLinked(now)} onPress={capture} />}
      />
      <View style={styles.bar}>
        <ProgressBar accessibilityLabel="Strips looked at" progress={(at + 1) / strips.length} />
      </View>
      <ChipLine>
        {profile.families.flatMap((one) =>
          one.manual
            ? [
                <Chip
                  key={one.id}
                  title={one.name}
                  chosen={one.id === family?.id}
                  onPress={() => set({ at: strips.indexOf(one.strips[0] ?? '') })}
                />,
              ]
            : [],
        )}
      </ChipLine>
      <Body tight>
        <View style={styles.column} testID={`by-eye-${strip}`}>
          {sections.map((section) => (
            <Card key={section} tight>
              <AppText kind="heading">{sectionName(section)}</AppText>
              {(family?.keys ?? []).flatMap((key) => {
                const [spec, value] = [family?.settings[key], settings[key]];
                return key.startsWith(`${section}/`) && spec && value !== undefined
                  ? [
                      <ByEyeSetting
                        key={key}
                        spec={spec}
                        address={`${strip}/${key}`}
                        name={settingName(profile, key, state)}
                        value={value}
                        was={own.get(key)}
                        onMove={movable}
                      />,
                    ]
                  : [];
              })}
            </Card>
          ))}
          <StripPhoto desk={desk} name={name} />
        </View>
      </Body>
      <Footer>
        <Action title="‹" disabled={at === 0 && 'This is the first strip.'} onPress={() => set({ at: at - 1 })} />
        <Action
          kind="main"
          grow
          title={isLast ? 'Capture scene' : own.size > 0 ? 'Next strip' : 'As it was, next'}
          onPress={next}
        />
      </Footer>
      {isRenaming ? <RenameStripSheet now={now} strip={strip} onClose={() => setRenaming(false)} /> : null}
    </View>
  );
}

/** As a strip is read from the fader up: what is moved most stands on top. */
const rank = (section: string): number => {
  const first = ['fader', 'mute', 'pan'].indexOf(section);
  return first >= 0 ? first - 3 : SECTIONS.indexOf(section);
};

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  bar: { height: SPACE.xs },
  column: { gap: SPACE.s, maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
});
