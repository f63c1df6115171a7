import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { familyOf } from '@old-echo/core/desk/address';
import { withHalves } from '@old-echo/core/desk/linked-pair';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { displayName, withSettings } from '@old-echo/core/desk/state';
import { putOnStrips, SOUND_SECTIONS } from '@old-echo/core/library/apply-preset';
import { presetSections, singleStrip } from '@old-echo/core/library/preset';
import { joinWithAnd, plural, sectionNameInText } from '@old-echo/core/phrases/format-value';

import { CheckRow } from '../components/check-row';
import { SectionChips } from '../components/section-chips';
import { findStrips } from '../components/strip-picker-sheet';
import { useStageSettings } from '../components/use-stage-settings';
import { AppText, Sentence } from '../ui/app-text';
import { MainAction } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { SearchField } from '../ui/search-field';
import type { PutProps } from './apply-props';
import { GainCheck } from './gain-check';
import { IncludePatch } from './include-patch';
import { NotApplied } from './not-applied';
import { PresetPictures } from './preset-charts';

/** One strip or processor onto strips of the desk: which, and which sections of it. */
export function PutStrips({ now, source, title, preset, first, onBack }: PutProps) {
  const { desk, profile, state } = now;
  const from = singleStrip(source.content);
  const held = useMemo(() => presetSections(source.profile, source.content), [source]);
  const [picked, setPicked] = useState<ReadonlySet<string>>(() => new Set(withHalves(profile, state, first)));
  const [sections, setSections] = useState<ReadonlySet<string>>(() => {
    const sound = held.filter((section) => SOUND_SECTIONS.includes(section));
    return new Set(source.kind === 'strip' && sound.length > 0 ? sound : held);
  });
  const [withPatch, setWithPatch] = useState(false);
  const [words, setWords] = useState('');
  const { put, busy, isAtOnce } = useStageSettings();
  const strips = profile.strips.filter((strip) => picked.has(strip));
  const landing = useMemo(
    () => putOnStrips(source, profile, state, strips, { sections, withPatch }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `strips` is made of `picked` anew each time
    [source, profile, state, picked, sections, withPatch],
  );
  const live = preset === null;
  const own = familyOf(from);
  const found = findStrips(now, words).filter(
    (strip) => familyOf(strip) !== GLOBAL_FAMILY && !(live && strip === from),
  );
  const sorted = [...found.filter((s) => familyOf(s) === own), ...found.filter((s) => familyOf(s) !== own)];
  const shown = strips[0];
  const after = withSettings(state, landing.settings);
  const count = Object.keys(landing.settings).length;
  const name = (strip: string) => displayName(profile, state, strip);
  const where = strips.length > 3 ? plural(strips.length, 'strip') : joinWithAnd(strips.map(name));
  const go = () =>
    put(
      {
        deskId: desk.id,
        title: `${title} on ${where}`,
        settings: landing.settings,
        appliedPresets: preset ? strips.map((strip) => ({ strip, ...preset })) : [],
        gainFromOtherSource: true,
      },
      onBack,
    );
  return (
    <View style={styles.fill}>
      <Header
        over={`${live ? 'Copy to other strips of' : 'Apply to strips of'} ${desk.name}`}
        title={title}
        onBack={onBack}
      />
      <Body tight>
        <Sentence
          phrases={[
            { text: 'Apply ' },
            { text: joinWithAnd([...sections].map(sectionNameInText)) || 'nothing', tone: 'bold' },
            { text: ' to ' },
            { text: strips.length === 0 ? 'the strips you choose below' : where, tone: 'bold' },
            { text: strips.length === 1 ? '. Nothing else on it changes.' : '. Nothing else on them changes.' },
          ]}
        />
        {shown ? (
          <Card>
            <AppText kind="small" tone="second">
              {name(shown)}: dashed now, solid after
            </AppText>
            <PresetPictures profile={profile} strip={shown} settings={after[shown] ?? {}} was={state[shown] ?? {}} />
          </Card>
        ) : null}
        <GainCheck now={now} settings={landing.settings} />
        <NotApplied source={source} now={now} notes={landing.notes} fromOf={() => from} />
        {held.length > 1 ? <SectionChips held={held} chosen={sections} onChange={setSections} /> : null}
        {held.includes('source') && sections.has('source') ? (
          <IncludePatch
            under="Source, stereo link and output. If off, the strip keeps its own."
            included={withPatch}
            onChange={setWithPatch}
          />
        ) : null}
        <SearchField placeholder="Search strips" value={words} onChange={setWords} />
        <View>
          {sorted.map((strip) => (
            <CheckRow
              key={strip}
              name={name(strip)}
              under={profile.plainNames[strip] ?? strip}
              tick={picked.has(strip) ? 'all' : 'none'}
              testID={`onto-${strip}`}
              // The halves of a linked pair are preset together.
              onPress={() => {
                const all = withHalves(profile, state, [strip]);
                setPicked(
                  new Set([...picked].filter((one) => !all.includes(one)).concat(picked.has(strip) ? [] : all)),
                );
              }}
            />
          ))}
        </View>
      </Body>
      <MainAction
        asks={DESK_ROUTES.moveSettings}
        busy={busy}
        title={
          strips.length === 0
            ? 'Choose strips'
            : count === 0
              ? 'Nothing of it fits there'
              : `${isAtOnce ? 'Apply to' : 'Preview'} ${plural(strips.length, 'strip')}`
        }
        disabled={
          count === 0 && (strips.length === 0 ? 'Choose strips first.' : 'None of its sections is on these strips.')
        }
        onPress={go}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
