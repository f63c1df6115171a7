import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { putOnDesk } from '@old-echo/core/library/apply-preset';
import { presetSections, stripsInSettings } from '@old-echo/core/library/preset';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { CheckRow } from '../components/check-row';
import { useStageSettings } from '../components/use-stage-settings';
import { Sentence } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { Body, Header } from '../ui/layout';
import { toggled } from '../ui/toggle-in-set';
import { SPACE } from '../ui/tokens';
import type { PutProps } from './apply-props';
import { NotApplied } from './not-applied';

/** A patch or a template on the whole desk: which sections, and whether what feeds the inputs comes along. */
export function PutDesk({ now, source, title, onBack }: PutProps) {
  const { desk, profile } = now;
  const held = useMemo(() => presetSections(source.profile, source.content), [source]);
  const [sections, setSections] = useState<ReadonlySet<string>>(new Set(held));
  const [withPatch, setWithPatch] = useState(false);
  const { put, busy } = useStageSettings();
  const landing = useMemo(
    () => putOnDesk(source, profile, { sections, withPatch }),
    [source, profile, sections, withPatch],
  );
  const count = stripsInSettings(landing.settings).length;
  return (
    <View style={styles.fill}>
      <Header over={`Apply to ${desk.name}`} title={title} onBack={onBack} />
      <Body tight>
        <Sentence
          phrases={[
            { text: 'Sets up ' },
            { text: plural(count, 'strip'), tone: 'bold' },
            { text: '; no level or processing changes. Input patch: ' },
            { text: withPatch ? 'included' : 'stays', tone: 'bold' },
            { text: '.' },
          ]}
        />
        <View style={styles.chips}>
          {held.map((section) => (
            <Chip
              key={section}
              toggle
              title={sectionName(section)}
              chosen={sections.has(section)}
              onPress={() => setSections(toggled(sections, section))}
            />
          ))}
        </View>
        <CheckRow
          name="Include the patch"
          under="Leave off where the stage box is patched differently."
          tick={withPatch ? 'all' : 'none'}
          testID="with-patch"
          onPress={() => setWithPatch(!withPatch)}
        />
        <NotApplied source={source} now={now} notes={landing.notes} fromOf={(strip) => strip} />
      </Body>
      <Footer>
        <Action
          kind="main"
          grow
          busy={busy}
          title={count === 0 ? 'Nothing of it fits here' : `Preview ${plural(count, 'strip')}`}
          disabled={count === 0}
          onPress={() => put({ deskId: desk.id, title: `${title} on ${desk.name}`, settings: landing.settings })}
        />
      </Footer>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
