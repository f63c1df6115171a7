import { useRouter } from 'expo-router';
import { useMemo, useRef, useState } from 'react';
import { FlatList, Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';

import { stripFamily, stripNumber, type Profile } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import { stripName, type State } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/desk/wording';
import type { PlannedChange, Stay } from '@old-echo/core/preview/preview';
import type { Scope } from '@old-echo/core/scope/rules';

import { faultOf, useStartRestoreMutation, type ApiFault } from '../../store/api';
import { Action, Foot, HoldAction } from '../../ui/actions';
import { Icon } from '../../ui/icon';
import { Band, Card, Empty, Head } from '../../ui/page';
import { StripLine } from '../../ui/strip-line';
import { useLook } from '../../ui/theme';
import { SPACE, TOUCH } from '../../ui/tokens';
import { Waiting } from '../../ui/waiting';
import { Words } from '../../ui/words';
import { sectionCounts } from '../desk/strip-words';
import { useKeys } from '../shell/use-keys';
import { ChangeList, type ListedChange } from '../strip/change-list';
import { usePlan, type Plan } from './use-plan';

interface PreviewPaneProps {
  readonly sceneId: string;
  readonly scope: Scope;
  readonly onBack?: () => void;
}

/** What a restore will do, before anything is sent: strips with echoes, what stays and why, and the button that sends. */
export function PreviewPane({ sceneId, scope, onBack }: PreviewPaneProps) {
  const router = useRouter();
  const plan = usePlan(sceneId, scope);
  const [start, { isLoading, error }] = useStartRestoreMutation();
  const foot = useRef<View>(null);
  // The key only leads to the button: what it does is confirmed there.
  useKeys({
    r: () =>
      (foot.current as unknown as HTMLElement | null)?.querySelector<HTMLElement>('[role=button], button')?.focus(),
  });
  if (!plan) return <Waiting what="Working out the preview" />;
  const { now, scene, preview } = plan;
  const count = preview.changes.length;
  const restore = async () => {
    const answer = await start({
      desk: now.desk.id,
      request: { sceneId, scope: [...scope], fingerprint: preview.fingerprint },
    });
    if (answer.data) router.navigate(`/restores/${answer.data.id}`);
  };
  const title = `Restore ${plural(count, 'setting')}`;
  const live = now.desk.mode === 'live';
  return (
    <View style={styles.fill}>
      <Head
        over={`Preview · ${scene.kind === 'scene' ? `${scene.number} ${scene.name}` : scene.name}`}
        title={count === 0 ? 'No changes' : plural(count, 'change')}
        onBack={onBack}
        side={<Mode live={live} />}
      />
      <StripChanges plan={plan} fault={error && faultOf(error)} />
      <View ref={foot}>
        <Foot>
          {live ? (
            <HoldAction
              title={
                isLoading
                  ? 'Starting'
                  : count === 0
                    ? 'Nothing to restore'
                    : `Hold to restore ${plural(count, 'setting')}`
              }
              disabled={!now.linked || count === 0 || isLoading}
              onDone={() => void restore()}
            />
          ) : (
            <Action
              kind="main"
              grow
              title={count === 0 ? 'Nothing to restore' : title}
              busy={isLoading}
              disabled={!now.linked || count === 0}
              onPress={() => void restore()}
            />
          )}
        </Foot>
      </View>
    </View>
  );
}

function Mode({ live }: { readonly live: boolean }) {
  const look = useLook();
  return (
    <View style={[styles.mode, { borderColor: live ? look.stop : look.line }]}>
      <Words tone={live ? 'stop' : 'second'}>{live ? 'Live' : 'Studio'}</Words>
    </View>
  );
}

type Row =
  | { readonly kind: 'band'; readonly key: string; readonly title: string }
  | { readonly kind: 'strip'; readonly key: string; readonly changes: readonly PlannedChange[] };

function StripChanges({ plan, fault }: { readonly plan: Plan; readonly fault: ApiFault | undefined }) {
  const { now, preview, target } = plan;
  const [open, setOpen] = useState<string | null>(null);
  const rows = useMemo(() => rowsOf(now.profile, preview.changes), [now.profile, preview.changes]);
  return (
    <FlatList
      style={styles.fill}
      data={rows}
      keyExtractor={(row) => row.key}
      initialNumToRender={20}
      ListHeaderComponent={
        fault || preview.guarded.length > 0 ? (
          <View style={styles.cards}>
            {fault ? (
              <Card edge="stop">
                <Words kind="strong">{fault.message}</Words>
                <Words>
                  {fault.code === 'desk-moved'
                    ? 'Nothing was sent. The preview below is up to date again.'
                    : fault.advice}
                </Words>
              </Card>
            ) : null}
            {preview.guarded.length > 0 ? <Guarded plan={plan} /> : null}
          </View>
        ) : null
      }
      renderItem={({ item }) =>
        item.kind === 'band' ? (
          <Band title={item.title} />
        ) : (
          <StripChange
            profile={now.profile}
            state={now.state}
            target={target}
            strip={item.key}
            changes={item.changes}
            open={open === item.key}
            onOpen={(strip) => setOpen(open === strip ? null : strip)}
          />
        )
      }
      ListEmptyComponent={
        <Empty title="Nothing would change">
          {preview.stays.length > 0
            ? 'What differs from the scene stays as it is; below is why.'
            : 'The desk stands as this scene was captured.'}
        </Empty>
      }
      ListFooterComponent={
        preview.stays.length > 0 ? <Stays profile={now.profile} names={now.state} stays={preview.stays} /> : null
      }
    />
  );
}

/** Strips in desk order under the name of their family. */
function rowsOf(profile: Profile, changes: readonly PlannedChange[]): Row[] {
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of changes) byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  return profile.families.flatMap((family): Row[] => {
    const strips = family.strips.filter((strip) => byStrip.has(strip));
    if (strips.length === 0) return [];
    return [
      { kind: 'band', key: family.id, title: `${family.name} · echo is now, solid is after` },
      ...strips.map((strip): Row => ({ kind: 'strip', key: strip, changes: byStrip.get(strip) ?? [] })),
    ];
  });
}

interface StripChangeProps {
  readonly profile: Profile;
  readonly state: State;
  readonly target: State;
  readonly strip: string;
  readonly changes: readonly PlannedChange[];
  readonly open: boolean;
  readonly onOpen: (strip: string) => void;
}

function StripChange({ profile, state, target, strip, changes, open, onOpen }: StripChangeProps) {
  const spec = stripFamily(profile, strip)?.settings['fader/level'];
  const now = state[strip] ?? {};
  const fader = changes.find((change) => change.key === 'fader/level');
  const mute = changes.find((change) => change.key === 'mute/on');
  const level = Number(fader?.to ?? now['fader/level']);
  const listed: ListedChange[] = changes.map(({ address, from, to }) => ({ address, strip, was: from, now: to }));
  return (
    <View>
      <StripLine
        strip={strip}
        number={String(stripNumber(strip)).padStart(2, '0')}
        name={stripName(profile, state, strip)}
        under={sectionCounts(changes.map(({ section, key, to }) => ({ section, key, now: to })))}
        level={
          spec && isNumberSpec(spec) ? { spec, value: level, echo: fader ? Number(fader.from) : undefined } : undefined
        }
        muted={(mute?.to ?? now['mute/on']) === true}
        chosen={open}
        onOpen={onOpen}
      />
      {open ? (
        <View style={styles.open}>
          <ChangeList profile={profile} names={target} changes={listed} />
        </View>
      ) : null}
    </View>
  );
}

function Guarded({ plan }: { readonly plan: Plan }) {
  const { now, preview } = plan;
  const names = preview.guarded.map((strip) => stripName(now.profile, now.state, strip));
  return (
    <Card edge="care">
      <Words kind="strong">
        {names.length === 1 ? `${names[0]} is muted on the way` : `${names.length} strips are muted on the way`}
      </Words>
      <Words tone="second">
        {names.slice(0, 4).join(', ')}
        {names.length > 4 ? ` and ${names.length - 4} more` : ''}: source, pad or 48 V change while the strip is open.
        Each is muted first and opened again at the end.
      </Words>
    </Card>
  );
}

/** What differs and is left where it is, with the reason, folded until asked for. */
function Stays({ profile, names, stays }: { profile: Profile; names: State; stays: readonly Stay[] }) {
  const [open, setOpen] = useState(false);
  const reasons = [...new Set(stays.map((stay) => stay.why))].map(
    (why) => `${stays.filter((stay) => stay.why === why).length} ${why}`,
  );
  return (
    <View style={styles.stays}>
      <Pressable
        role="button"
        aria-expanded={open}
        testID="stays"
        onPress={() => setOpen(!open)}
        style={styles.staysHead}
      >
        <Icon of={open ? ChevronDown : ChevronRight} />
        <View style={styles.fill}>
          <Words kind="strong">{stays.length === 1 ? '1 difference stays' : `${stays.length} differences stay`}</Words>
          <Words kind="small" tone="second">
            {reasons.join(' · ')}
          </Words>
        </View>
      </Pressable>
      {open ? (
        <ChangeList
          profile={profile}
          names={names}
          changes={stays.map((stay) => ({
            address: stay.address,
            strip: stay.strip,
            was: stay.scene,
            now: stay.now,
            why: stay.why,
          }))}
        />
      ) : null}
      {open ? (
        <Words kind="small" tone="second">
          On the left what the scene holds, on the right what stays.
        </Words>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  mode: {
    borderWidth: 1,
    borderRadius: SPACE.s,
    minHeight: TOUCH - SPACE.s,
    justifyContent: 'center',
    paddingHorizontal: SPACE.m,
  },
  cards: { padding: SPACE.l, gap: SPACE.s },
  open: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s },
  stays: { padding: SPACE.l, gap: SPACE.s },
  staysHead: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: TOUCH },
});
