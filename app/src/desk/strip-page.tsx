import { useRouter } from 'expo-router';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import Shield from 'lucide-react-native/icons/shield';
import ShieldCheck from 'lucide-react-native/icons/shield-check';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Switch } from 'react-native-paper';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { stripFamily } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { displayName } from '@old-echo/core/desk/state';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';
import { type CompiledScope, compileScope } from '@old-echo/core/recall/compile-scope';
import { setSafe } from '@old-echo/core/recall/edit-safes';

import { EqChart } from '../components/eq-chart';
import { NeverHeard } from '../components/never-heard';
import { StripMenu } from '../components/presets/strip-menu';
import { StripOrigin } from '../components/presets/strip-presets';
import { TryPresets } from '../components/presets/try-presets';
import { useLoadInsert } from '../components/presets/use-load-insert';
import { type SafeExtent, safeExtents } from '../components/strip-safety';
import { faultLine } from '../store/api';
import { useEditDeskMutation } from '../store/desk-api';
import { noticed } from '../store/notice-slice';
import { cleared, followingChosen } from '../store/selection-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { type LiveDesk, stripDrift, useBaseline } from '../store/use-live-desk';
import { useMayAsk } from '../ui/allowed';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Icon } from '../ui/icon';
import { Body, Card, Empty, Header } from '../ui/layout';
import { useLook } from '../ui/theme';
import { toggled } from '../ui/toggle-in-set';
import { SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { Members } from './control-members';
import { RevertSectionButton } from './drift-list';
import { Feeds } from './mix-sources';
import { canRename, RenameStripSheet } from './rename-strip-sheet';
import { SafeSheet } from './safe-sheet';
import { SectionSettings } from './section-settings';
import { sectionSummary } from './section-summary';
import { useMoveSetting } from './use-move-setting';

/** Sections that are open when a strip is opened. */
const OPEN_AT_FIRST = ['fader', 'mute', 'pan', 'eq'];

/** A strip with everything it has: each section readable, its controls movable, drift as echoes. */
export function StripPage({ now, strip, onBack }: { now: LiveDesk; strip: string; onBack: () => void }) {
  const { desk, profile, state, linked } = now;
  const was = useBaseline();
  const move = useLoadInsert(now, strip, useMoveSetting(desk.id));
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [holding, setHolding] = useState<string | null>(null);
  const [isRenaming, setRenaming] = useState(false);
  const mayMove = useMayAsk()(DESK_ROUTES.moveSettings);
  const safes = useMemo(() => compileScope(profile, [], desk.safes), [profile, desk.safes]);
  const family = stripFamily(profile, strip);
  const settings = state[strip];
  if (family && !now.known)
    return (
      <NeverHeard title={profile.plainNames[strip] ?? strip} desk={desk} onBack={onBack}>
        The strip is shown once it is connected.
      </NeverHeard>
    );
  if (!family || !settings)
    return (
      <View style={styles.fill}>
        <Header title="No such strip" onBack={onBack} />
        <Empty title={`${desk.name} has no strip ${strip}`}>Choose one on the desk.</Empty>
      </View>
    );
  const changes = was ? stripDrift(profile, strip, was, state) : [];
  const order = [...family.sections].sort((a, b) => rank(a) - rank(b));
  const movable = linked && !desk.showLock && mayMove ? move : undefined;
  const toggle = (section: string) => setFolded((before) => toggled(before, section));
  return (
    <View style={styles.fill}>
      <Header
        over={[profile.plainNames[strip], changes.length > 0 ? `${plural(changes.length, 'setting')} drifted` : '']
          .filter(Boolean)
          .join(' · ')}
        title={displayName(profile, state, strip)}
        onTitle={mayMove && canRename(now, strip) ? () => setRenaming(true) : undefined}
        titleDoes="rename"
        onBack={onBack}
        side={
          <>
            <SafeToggle now={now} strip={strip} />
            <StripMenu now={now} strip={strip} />
          </>
        }
      />
      <Body tight>
        <Together strip={strip} />
        <StripOrigin now={now} strip={strip} />
        <TryPresets now={now} strip={strip} />
        <Members profile={now.profile} state={now.state} strip={strip} />
        <Feeds now={now} strip={strip} onMove={movable} />
        {order.map((section) => {
          const drifted = changes.filter((change) => change.section === section);
          const open = OPEN_AT_FIRST.includes(section) !== folded.has(section);
          return (
            <Card key={section} tight>
              <View style={styles.section}>
                <Pressable role="button" aria-expanded={open} onPress={() => toggle(section)} style={styles.open}>
                  <Icon of={open ? ChevronDown : ChevronRight} />
                  <AppText kind="heading" style={styles.fill}>
                    {sectionName(section)}
                  </AppText>
                  <AppText kind="small" tone={drifted.length > 0 ? 'care' : 'second'} numberOfLines={1}>
                    {drifted.length > 0 ? `${drifted.length} drifted` : sectionSummary(family, section, settings)}
                  </AppText>
                </Pressable>
                <RevertSectionButton now={now} section={section} drift={drifted} />
                <SafeBadge of={safeOf(safes, strip, section)} section={section} onPress={() => setHolding(section)} />
              </View>
              {open && section === 'eq' ? <EqChart now={settings} was={was?.[strip]} /> : null}
              {open ? (
                <SectionSettings
                  profile={profile}
                  family={family}
                  strip={strip}
                  section={section}
                  names={state}
                  settings={settings}
                  drifted={drifted}
                  onMove={movable}
                />
              ) : null}
            </Card>
          );
        })}
      </Body>
      <Neighbours now={now} strip={strip} strips={family.strips} />
      {isRenaming && canRename(now, strip) ? (
        <RenameStripSheet now={now} strip={strip} onClose={() => setRenaming(false)} />
      ) : null}
      <SafeSheet now={now} strip={strip} section={holding} onClose={() => setHolding(null)} />
    </View>
  );
}

/** On one of several selected strips: that the others follow, and how. */
function Together({ strip }: { readonly strip: string }) {
  const dispatch = useAppDispatch();
  const { strips, following } = useAppSelector((root) => root.selection);
  if (strips.length < 2 || !strips.includes(strip)) return null;
  return (
    <Card tight edge="care">
      <View style={styles.together}>
        <AppText kind="strong" style={styles.fill}>
          {strips.length} strips move together
        </AppText>
        <Action kind="quiet" title="Only this one" onPress={() => dispatch(cleared())} />
      </View>
      <ChipRow role="tablist">
        <Chip
          title="By the same step"
          chosen={following === 'step'}
          onPress={() => dispatch(followingChosen('step'))}
        />
        <Chip
          title="To the same value"
          chosen={following === 'value'}
          onPress={() => dispatch(followingChosen('value'))}
        />
      </ChipRow>
    </Card>
  );
}

/** Whether all, some or nothing of a section is held safe. */
function safeOf({ cells, settings }: CompiledScope, strip: string, section: string): SafeExtent {
  const single = [...settings].filter(([address]) => address.startsWith(`${strip}/${section}/`));
  if (cells[strip]?.[section] === 'safe') return single.length > 0 ? 'some' : 'all';
  return single.length > 0 ? 'some' : 'none';
}

/** A shield that says how far a section is safe, and leads to why. */
function SafeBadge({ of, section, onPress }: { of: SafeExtent; section: string; onPress: () => void }) {
  const look = useLook();
  const words = { all: 'safe', some: 'some settings safe', none: 'no safes' } as const;
  return (
    <Pressable
      role="button"
      aria-label={`${sectionName(section)}: ${words[of]}`}
      onPress={onPress}
      style={styles.shield}
    >
      <Icon of={of === 'all' ? ShieldCheck : Shield} size={20} color={of === 'none' ? look.line : look.stop} />
    </Pressable>
  );
}

/** Faders, mutes and pans first: what is moved most stands on top. */
const rank = (section: string): number => {
  const first = ['fader', 'mute', 'pan'].indexOf(section);
  return first >= 0 ? first - 3 : SECTIONS.indexOf(section);
};

/** The strips before and after, a thumb away. */
function Neighbours({ now, strip, strips }: { now: LiveDesk; strip: string; strips: readonly string[] }) {
  const router = useRouter();
  const at = strips.indexOf(strip);
  const [before, after] = [strips[at - 1], strips[at + 1]];
  const go = (to: string | undefined) => to && router.navigate(`/desk/${now.desk.id}/strip/${to}`);
  useShortcuts({ p: () => go(before), n: () => go(after) });
  const name = (to: string | undefined) => (to ? displayName(now.profile, now.state, to) : '');
  return (
    <Footer>
      <Action
        grow
        title={before ? `‹ ${name(before)}` : 'No strip before'}
        disabled={!before && 'This is the first strip.'}
        onPress={() => go(before)}
      />
      <Action
        grow
        title={after ? `${name(after)} ›` : 'No strip after'}
        disabled={!after && 'This is the last strip.'}
        onPress={() => go(after)}
      />
    </Footer>
  );
}

function SafeToggle({ now, strip }: { now: LiveDesk; strip: string }) {
  const { desk, profile } = now;
  const dispatch = useAppDispatch();
  const [edit, { isLoading }] = useEditDeskMutation();
  const mayEdit = useMayAsk()(DESK_ROUTES.editDesk);
  const safe = safeExtents(profile, desk.safes)[strip] === 'all';
  const change = async () => {
    const safes = [...setSafe(profile, desk.safes, { strip }, !safe)];
    const answer = await edit({ id: desk.id, edit: { safes } });
    if (answer.error) dispatch(noticed(faultLine(answer.error)));
  };
  useShortcuts({ k: () => mayEdit && void change() });
  return (
    <View style={styles.safe}>
      <AppText kind="small" tone={safe ? 'stop' : 'second'}>
        Safe
      </AppText>
      <Switch
        value={safe}
        disabled={isLoading || !mayEdit}
        onValueChange={() => void change()}
        accessibilityLabel="Keep this strip safe from restores"
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  section: { flexDirection: 'row', alignItems: 'center' },
  together: { flexDirection: 'row', alignItems: 'center' },
  open: { flex: 1, minWidth: 0, flexDirection: 'row', alignItems: 'center', gap: SPACE.xs, minHeight: TOUCH },
  shield: { width: TOUCH, height: TOUCH, marginRight: -SPACE.s, alignItems: 'center', justifyContent: 'center' },
  safe: { alignItems: 'center', gap: SPACE.xs },
});
