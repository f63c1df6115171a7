import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { familyOf } from '@old-echo/core/desk/address';
import { specOf } from '@old-echo/core/desk/profile';
import { displayName } from '@old-echo/core/desk/state';
import { applyStripSet, findUnusedInputs, inputsOf, type StripSetPlace } from '@old-echo/core/library/strip-set';
import { formatValue, plural } from '@old-echo/core/phrases/format-value';

import { StripSheet } from '../components/strip-picker-sheet';
import { useStageSettings } from '../components/use-stage-settings';
import { AppText, Sentence } from '../ui/app-text';
import { MainAction } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import type { PutProps } from './apply-props';
import { GainCheck } from './gain-check';
import { IncludePatch } from './include-patch';
import { NotApplied } from './not-applied';

const HOW: Readonly<Record<StripSetPlace['how'], string>> = {
  input: '',
  same: 'is already there and shared',
  free: 'is free and will be used',
  none: 'has no free place',
};

/** A strip set: on which strips its inputs land, which effect returns and groups it finds, and the sends it makes. */
export function ApplyStripSet({ now, source, title, preset, first, onBack }: PutProps) {
  const look = useLook();
  const { desk, profile, state } = now;
  const [hands, setHands] = useState<ReadonlyMap<string, string>>(new Map());
  const [asking, setAsking] = useState<string | null>(null);
  const [withPatch, setWithPatch] = useState(false);
  const { put, busy, isAtOnce } = useStageSettings();
  const plan = useMemo(() => {
    const found = findUnusedInputs(source, profile, state, first);
    for (const input of inputsOf(source.content)) {
      const hand = hands.get(input);
      if (hand !== undefined) found.set(input, hand);
    }
    return applyStripSet(source, profile, state, found, withPatch);
  }, [source, profile, state, first, hands, withPatch]);
  const unplaced = plan.places.filter(({ to }) => to === undefined);
  const stripSetName = (strip: string) => displayName(source.profile, source.content, strip);
  const deskName = (strip: string) => displayName(profile, state, strip);
  const onto = plan.places.filter(({ how, to }) => how === 'input' && to !== undefined);
  const twice = new Set(onto.map(({ to }) => to)).size < onto.length;
  const go = () =>
    put(
      {
        deskId: desk.id,
        title: `${title} on ${plural(onto.length, 'strip')}`,
        settings: plan.settings,
        appliedPresets: preset ? onto.map(({ to = '' }) => ({ strip: to, ...preset })) : [],
        gainFromOtherSource: true,
      },
      onBack,
    );
  const shared = plan.places.filter(({ how }) => how === 'same').length;
  return (
    <View style={styles.fill}>
      <Header over={`Apply to ${desk.name}`} title={title} onBack={onBack} />
      <Body tight>
        <Sentence
          phrases={[
            { text: 'Applies ' },
            { text: plural(onto.length, 'strip'), tone: 'bold' },
            { text: ' and ' },
            { text: plural(plan.sends.length, 'send'), tone: 'bold' },
            {
              text:
                shared > 0
                  ? `; ${plural(shared, 'return or group', 'returns or groups')} ${shared === 1 ? 'is' : 'are'} already there and shared.`
                  : '.',
            },
          ]}
        />
        <Card>
          {plan.places.map(({ from, to, how }) => (
            <Pressable
              key={from}
              role="button"
              aria-label={`${stripSetName(from)} goes to ${to === undefined ? 'nothing' : deskName(to)}`}
              disabled={familyOf(from) !== 'in'}
              testID={`place-${from}`}
              onPress={() => setAsking(from)}
              style={[styles.place, { borderColor: look.line }]}
            >
              <AppText kind="strong" style={styles.fill} numberOfLines={1}>
                {stripSetName(from)}
              </AppText>
              <View style={styles.to}>
                <AppText tone={to === undefined ? 'stop' : 'ink'} numberOfLines={1}>
                  {to === undefined ? 'none' : how === 'input' ? `${deskName(to)} ›` : deskName(to)}
                </AppText>
                {HOW[how] ? (
                  <AppText kind="small" tone="second">
                    {HOW[how]}
                  </AppText>
                ) : null}
              </View>
            </Pressable>
          ))}
        </Card>
        {plan.sends.length > 0 ? (
          <Card>
            <AppText kind="strong">Sends it sets</AppText>
            {plan.sends.map(({ strip, to, level }) => {
              const spec = specOf(profile, `${strip}/sends/${to}/level`);
              const named = plan.places.find((place) => place.to === to);
              return (
                <View key={`${strip} ${to}`} style={styles.send}>
                  <AppText style={styles.fill} tone="second">
                    {deskName(strip)} to {named ? stripSetName(named.from) : deskName(to)}
                  </AppText>
                  <AppText kind="value">{spec ? formatValue(spec, level) : level}</AppText>
                </View>
              );
            })}
          </Card>
        ) : null}
        <GainCheck now={now} settings={plan.settings} />
        <NotApplied
          source={source}
          now={now}
          notes={plan.notes}
          fromOf={(strip) => plan.places.find(({ to }) => to === strip)?.from ?? strip}
        />
        <IncludePatch
          under="If off, the strips keep their own sources. Stereo links are always included."
          included={withPatch}
          onChange={setWithPatch}
        />
      </Body>
      <MainAction
        asks={DESK_ROUTES.moveSettings}
        busy={busy}
        title={
          twice
            ? 'Two on one strip'
            : onto.length === 0
              ? 'No strip is free for it'
              : unplaced.length > 0
                ? `${isAtOnce ? 'Apply' : 'Preview'} without ${plural(unplaced.length, 'strip')}`
                : `${isAtOnce ? 'Apply to' : 'Preview'} ${plural(onto.length, 'strip')}`
        }
        disabled={
          twice
            ? 'Two of its strips go onto one: choose another for one of them.'
            : onto.length === 0 && 'No strip is free for it.'
        }
        onPress={go}
      />
      <StripSheet
        title={asking === null ? '' : `${stripSetName(asking)} goes to`}
        now={now}
        open={asking !== null}
        onClose={() => setAsking(null)}
        onChoose={(strip) => setHands(new Map([...hands, [asking ?? '', strip]]))}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  place: { flexDirection: 'row', alignItems: 'center', gap: SPACE.m, minHeight: TOUCH + 4, borderBottomWidth: 1 },
  to: { flex: 1, minWidth: 0, alignItems: 'flex-end' },
  send: { flexDirection: 'row', alignItems: 'center' },
});
