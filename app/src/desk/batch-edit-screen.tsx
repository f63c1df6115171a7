import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { sectionOf } from '@old-echo/core/desk/address';
import { type BatchChange, batchEdit, commonKeys } from '@old-echo/core/desk/batch-edit';
import { movedWithHalves } from '@old-echo/core/desk/linked-pair';
import { stripFamily } from '@old-echo/core/desk/profile';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { isNumberSpec, type SettingSpec, type Value } from '@old-echo/core/desk/setting';
import { displayName } from '@old-echo/core/desk/state';
import { formatValue, fullSettingName, plural, sectionName } from '@old-echo/core/phrases/format-value';

import { AuditionBar } from '../components/audition/audition-bar';
import { useDeskAudition } from '../components/audition/use-desk-audition';
import { Loading } from '../components/loading';
import { useStageSettings } from '../components/use-stage-settings';
import { deskHref } from '../store/desk-address';
import { useAppSelector } from '../store/store';
import { type LiveDesk, useLiveDesk } from '../store/use-live-desk';
import { AppText, Sentence } from '../ui/app-text';
import { Action, Chip, MainAction } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Body, Card, Empty, Header } from '../ui/layout';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { SettingRow } from './setting-row';

/** One change for all strips that are selected: to the same value, or by the same step; previewed as one move. */
export function TogetherScreen() {
  const router = useRouter();
  const now = useLiveDesk();
  const selected = useAppSelector((root) => root.selection.strips);
  const back = () => router.navigate(now ? deskHref(now.desk.id) : '/desk');
  useShortcuts({ Escape: back });
  if (!now) return <Loading what="Reading the desk" />;
  const strips = now.profile.strips.filter((strip) => selected.includes(strip));
  if (strips.length === 0)
    return (
      <View style={styles.fill}>
        <Header title="Edit selected strips" onBack={back} />
        <Empty title="No strips are selected">On the desk, press and hold a strip to select it.</Empty>
      </View>
    );
  return <BatchEdit now={now} strips={strips} onBack={back} />;
}

/** The desk as it is. */
const NONE = {};

function BatchEdit({ now, strips, onBack }: { now: LiveDesk; strips: readonly string[]; onBack: () => void }) {
  const { desk, profile, state } = now;
  const [first = ''] = strips;
  const family = stripFamily(profile, first);
  const keys = commonKeys(profile, strips);
  const [key, setKey] = useState(keys.find((one) => one === 'fader/level') ?? keys[0] ?? '');
  const [section, setSection] = useState<string | null>(null);
  const [how, setHow] = useState<'by' | 'to'>('by');
  const [by, setBy] = useState(0);
  const [to, setTo] = useState<Value | null>(null);
  const { put, busy, isAtOnce } = useStageSettings();
  const spec = family?.settings[key];
  const number = spec !== undefined && isNumberSpec(spec);
  const change: BatchChange = number && how === 'by' ? { by } : { to: to ?? state[first]?.[key] ?? 0 };
  const settings = movedWithHalves(profile, state, batchEdit(profile, state, strips, key, change));
  const moves = Object.entries(settings).filter(([address, value]) => {
    const strip = address.slice(0, address.indexOf('/'));
    return state[strip]?.[key] !== value;
  });
  const changed = Object.fromEntries(moves);
  const audition = useDeskAudition(now, NONE, changed);
  const sections = SECTIONS.filter((one) => keys.some((shared) => sectionOf(shared) === one));
  const called = fullSettingName(profile, `${first}/${key}`, state);
  return (
    <View style={styles.fill}>
      <Header
        over={`On ${plural(strips.length, 'strip')} of ${desk.name}`}
        title="Edit selected strips"
        onBack={onBack}
      />
      <Body tight>
        <AppText tone="second">{strips.map((strip) => displayName(profile, state, strip)).join(', ')}</AppText>
        <ChipRow>
          {sections.map((one) => (
            <Chip key={one} title={sectionName(one)} chosen={sectionOf(key) === one} onPress={() => setSection(one)} />
          ))}
        </ChipRow>
        <Card>
          <AppText kind="heading">{called}</AppText>
          {number ? (
            <ChipRow role="tablist">
              <Chip title="By a step" chosen={how === 'by'} onPress={() => setHow('by')} />
              <Chip title="To one value" chosen={how === 'to'} onPress={() => setHow('to')} />
            </ChipRow>
          ) : null}
          {number && how === 'by' ? (
            <Steps spec={spec} by={by} onChange={setBy} />
          ) : spec ? (
            <SettingRow
              spec={spec}
              address={`${first}/${key}`}
              name="All to"
              value={to ?? state[first]?.[key]}
              echo={undefined}
              onMove={(_, value) => setTo(value)}
            />
          ) : null}
        </Card>
        <Sentence
          phrases={[
            { text: moves.length === 0 ? 'No change yet' : `${plural(moves.length, 'strip')} move`, tone: 'bold' },
            { text: moves.length < strips.length ? '; those that are off, or there already, stay.' : ' together.' },
          ]}
        />
        {moves.length > 0 && spec ? (
          <Card>
            {moves.map(([address, value]) => {
              const strip = address.slice(0, address.indexOf('/'));
              return (
                <View key={address} style={styles.move}>
                  <AppText style={styles.fill} numberOfLines={1}>
                    {displayName(profile, state, strip)}
                  </AppText>
                  <AppText kind="value" tone="second">
                    {formatValue(spec, state[strip]?.[key])} →{' '}
                  </AppText>
                  <AppText kind="value">{formatValue(spec, value)}</AppText>
                </View>
              );
            })}
          </Card>
        ) : null}
      </Body>
      {audition && moves.length > 0 ? (
        <AuditionBar audition={audition} title="Hear it first: A before, B after" />
      ) : null}
      <MainAction
        busy={busy}
        title={
          moves.length === 0 ? 'No change yet' : `${isAtOnce ? 'Apply to' : 'Preview'} ${plural(moves.length, 'strip')}`
        }
        disabled={moves.length === 0 && 'All of them have this value.'}
        onPress={() =>
          put(
            {
              deskId: desk.id,
              title: `${called} of ${plural(moves.length, 'strip')}`,
              settings: changed,
            },
            onBack,
          )
        }
      />
      <Sheet title={section ? sectionName(section) : ''} open={section !== null} onClose={() => setSection(null)}>
        {keys
          .filter((one) => sectionOf(one) === section)
          .map((one) => (
            <Option
              key={one}
              title={fullSettingName(profile, `${first}/${one}`, state)}
              chosen={one === key}
              onPress={() => {
                setKey(one);
                setTo(null);
                setBy(0);
                setSection(null);
              }}
            />
          ))}
      </Sheet>
    </View>
  );
}

/** Coarse and fine steps up and down, in the setting’s own unit. */
function Steps({ spec, by, onChange }: { spec: SettingSpec; by: number; onChange: (by: number) => void }) {
  if (!isNumberSpec(spec)) return null;
  const coarse = spec.unit === 'dB' ? 1 : Math.max(spec.step, Number(((spec.max - spec.min) / 20).toPrecision(1)));
  const step = (n: number) => onChange(Number((by + n).toFixed(3)));
  const shown = by === 0 ? `0 ${spec.unit}` : `${by > 0 ? '+' : '−'}${Math.abs(by)} ${spec.unit}`;
  return (
    <View style={styles.steps}>
      <Action kind="small" title={`−${coarse}`} onPress={() => step(-coarse)} />
      <Action kind="small" title="−" onPress={() => step(-spec.step)} />
      <AppText kind="strong" style={styles.by} testID="step">
        {shown}
      </AppText>
      <Action kind="small" title="+" onPress={() => step(spec.step)} />
      <Action kind="small" title={`+${coarse}`} onPress={() => step(coarse)} />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  move: { flexDirection: 'row', alignItems: 'center' },
  steps: {
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: SPACE.xs,
  },
  by: { minWidth: 84, textAlign: 'center' },
});
