import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { putOnDesk } from '@old-echo/core/library/apply-preset';
import { presetSections, stripsInSettings } from '@old-echo/core/library/preset';
import { plural } from '@old-echo/core/phrases/format-value';

import { SectionChips } from '../components/section-chips';
import { useStageSettings } from '../components/use-stage-settings';
import { Sentence } from '../ui/app-text';
import { MainAction } from '../ui/buttons';
import { Body, Header } from '../ui/layout';
import type { PutProps } from './apply-props';
import { IncludePatch } from './include-patch';
import { NotApplied } from './not-applied';

/** A patch or a template on the whole desk: which sections, and whether what feeds the inputs comes along. */
export function PutDesk({ now, source, title, onBack }: PutProps) {
  const { desk, profile } = now;
  const held = useMemo(() => presetSections(source.profile, source.content), [source]);
  const [sections, setSections] = useState<ReadonlySet<string>>(new Set(held));
  const [withPatch, setWithPatch] = useState(false);
  const { put, busy, isAtOnce } = useStageSettings();
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
        <SectionChips held={held} chosen={sections} onChange={setSections} />
        <IncludePatch
          under="Leave off where the stage box is patched differently."
          included={withPatch}
          onChange={setWithPatch}
        />
        <NotApplied source={source} now={now} notes={landing.notes} fromOf={(strip) => strip} />
      </Body>
      <MainAction
        asks={DESK_ROUTES.moveSettings}
        busy={busy}
        title={
          count === 0 ? 'Nothing of it fits here' : `${isAtOnce ? 'Apply to' : 'Preview'} ${plural(count, 'strip')}`
        }
        disabled={count === 0 && 'None of its strips is on this desk.'}
        onPress={() => put({ deskId: desk.id, title: `${title} on ${desk.name}`, settings: landing.settings }, onBack)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
});
