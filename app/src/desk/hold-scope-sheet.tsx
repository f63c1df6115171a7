import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { stripFamily } from '@old-echo/core/desk/profile';
import { GLOBAL_FAMILY } from '@old-echo/core/desk/profile-source';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { describeScope } from '@old-echo/core/phrases/describe-scope';
import { plural } from '@old-echo/core/phrases/format-value';
import { plainText } from '@old-echo/core/phrases/phrase';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import { type Scope, WILDCARD } from '@old-echo/core/recall/scope-rules';
import { choosableStrips } from '@old-echo/core/recall/scope-selection';

import { MembersSheet } from '../components/group-members-sheet';
import { SectionChips } from '../components/section-chips';
import { scopeHeld } from '../store/held-scope-slice';
import { useSavedScopesQuery } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText, Sentence } from '../ui/app-text';
import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';

interface HoldScopeProps {
  readonly now: LiveDesk;
  readonly onClose: () => void;
}

/** Chooses what is held while one walks through scenes: sections, on all strips or on some; or a scope that was saved. */
export function HoldScopeSheet({ now, onClose }: HoldScopeProps) {
  const { desk, profile, state } = now;
  const dispatch = useAppDispatch();
  const selected = useAppSelector((root) => root.selection.strips);
  const { data: saved = [] } = useSavedScopesQuery(profile.id);
  const [sections, setSections] = useState<ReadonlySet<string>>(new Set());
  // Null stands for all strips.
  const [strips, setStrips] = useState<readonly string[] | null>(selected.length > 0 ? selected : null);
  const [grouping, setGrouping] = useState(false);
  const families = profile.families.filter(({ id }) => id !== GLOBAL_FAMILY);
  const isSame = (some: readonly string[]) => strips?.join() === some.join();
  const isListed = strips === null || isSame(selected) || families.some((family) => isSame(family.strips));
  const there = new Set((strips ?? choosableStrips(profile)).flatMap((s) => stripFamily(profile, s)?.sections ?? []));
  const scope: Scope = [{ strips: [...(strips ?? [WILDCARD])], sections: [...sections], include: true }];
  const say = (what: Scope) => describeScope(profile, compileScope(profile, what, desk.safes), state);
  const hold = (what: Scope) => {
    onClose();
    dispatch(scopeHeld({ deskId: desk.id, scope: what }));
  };
  return (
    <Sheet title="Step through scenes with only" open onClose={onClose}>
      <View style={styles.parts}>
        <SectionChips
          held={SECTIONS.filter((section) => there.has(section))}
          chosen={sections}
          onChange={setSections}
        />
        <AppText kind="heading">On</AppText>
        <ChipRow role="tablist">
          {selected.length > 0 ? (
            <Chip title={`${selected.length} selected`} chosen={isSame(selected)} onPress={() => setStrips(selected)} />
          ) : null}
          <Chip title="All strips" chosen={strips === null} onPress={() => setStrips(null)} />
          {families.map((family) => (
            <Chip
              key={family.id}
              title={family.name}
              chosen={isSame(family.strips)}
              onPress={() => setStrips(family.strips)}
            />
          ))}
          <Chip
            title={isListed ? 'A DCA or group …' : plural(strips.length, 'strip')}
            chosen={!isListed}
            onPress={() => setGrouping(true)}
          />
        </ChipRow>
        <Sentence phrases={say(scope)} />
        <Action
          kind="main"
          title="Hold it"
          disabled={sections.size === 0 && 'Choose a section first.'}
          onPress={() => hold(scope)}
        />
      </View>
      {saved.length > 0 ? <AppText kind="heading">Saved recall scopes</AppText> : null}
      {saved.map(({ id, name, scope: what }) => (
        <MenuRow key={id} title={name} under={plainText(say(what))} onPress={() => hold(what)} />
      ))}
      <MembersSheet
        title="On the strips in"
        now={now}
        open={grouping}
        onClose={() => setGrouping(false)}
        onChoose={setStrips}
      />
    </Sheet>
  );
}

const styles = StyleSheet.create({ parts: { gap: SPACE.m, paddingBottom: SPACE.l } });
