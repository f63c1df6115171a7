import { useState } from 'react';

import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { truncate } from '@old-echo/core/fault/text-shapes';
import {
  isBus,
  type PresetContent,
  presetContent,
  type PresetKind,
  processorOf,
  PROCESSORS,
  stripSetContent,
} from '@old-echo/core/library/preset';
import { capitalise, plural, sectionName } from '@old-echo/core/phrases/format-value';
import { insertChain } from '@old-echo/core/signal/insert-chain';

import { MenuRow } from '../../ui/menu';
import { Sheet } from '../../ui/sheet';
import { type PresetDraft, PresetSheet } from './preset-sheet';

interface SaveFromProps {
  readonly profile: Profile;
  readonly state: State;
  /** The desk, or the scene, by name. */
  readonly madeOn: string;
  /** None: the whole desk; one: it and its processors; several: a strip set of them. */
  readonly strips: readonly string[];
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Chooses what of a desk or a scene goes into the library: two touches, and a name. */
export function SaveFrom({ profile, state, madeOn, strips, open, onClose }: SaveFromProps) {
  const [savable, setSavable] = useState<PresetDraft | null>(null);
  const choose = (kind: PresetKind, name: string, content: PresetContent) => {
    setSavable({ kind, name: truncate(name, 60), profileId: profile.id, madeOn, content });
  };
  const [strip] = strips;
  return (
    <>
      <Sheet title="Save to the library" open={open && !savable} onClose={onClose}>
        {strip === undefined ? (
          <WholeDesk profile={profile} state={state} madeOn={madeOn} onChoose={choose} />
        ) : strips.length > 1 ? (
          <MenuRow
            title={`A strip set of ${plural(strips.length, 'strip')}`}
            under="With their stereo links, groups and effect returns"
            onPress={() =>
              choose(
                'strip set',
                strips.map((one) => displayName(profile, state, one)).join(', '),
                stripSetContent(profile, state, strips),
              )
            }
          />
        ) : (
          <OneStrip profile={profile} state={state} strip={strip} onChoose={choose} />
        )}
      </Sheet>
      {savable ? (
        <PresetSheet
          savable={savable}
          onClose={() => {
            setSavable(null);
            onClose();
          }}
        />
      ) : null}
    </>
  );
}

type Choose = (kind: PresetKind, name: string, content: PresetContent) => void;

function OneStrip({
  profile,
  state,
  strip,
  onChoose,
}: {
  profile: Profile;
  state: State;
  strip: string;
  onChoose: Choose;
}) {
  const settings = state[strip] ?? {};
  const name = displayName(profile, state, strip);
  const has = stripFamily(profile, strip)?.sections ?? [];
  const chain = insertChain(settings);
  // An effect return's own effect is one processor; a strip's inserts are saved one by one.
  const sections = PROCESSORS.filter(
    (section) => has.includes(section) && (section !== 'inserts' || settings['inserts/kind'] !== undefined),
  );
  return (
    <>
      <MenuRow
        title="The whole strip"
        under="All of its sections"
        onPress={() => onChoose('strip', name, presetContent('strip', profile, state, strip))}
      />
      {isBus(strip) ? (
        <MenuRow
          title="The bus"
          under="Its processing, not its fader"
          onPress={() => onChoose('bus', name, presetContent('bus', profile, state, strip))}
        />
      ) : null}
      {sections.map((section) => {
        const title = section === 'inserts' ? capitalise(String(settings['inserts/kind'])) : sectionName(section);
        return (
          <MenuRow
            key={section}
            title={`Only the ${title === 'EQ' ? title : title.toLowerCase()}`}
            onPress={() => onChoose('processor', `${name} ${title}`, { [strip]: processorOf(settings, section) })}
          />
        );
      })}
      {chain.map(({ place, kind }) => (
        <MenuRow
          key={place}
          title={`Only the ${kind} in slot ${place}`}
          onPress={() => onChoose('processor', `${name} ${kind}`, { [strip]: processorOf(settings, 'inserts', place) })}
        />
      ))}
      <MenuRow
        title="A strip set"
        under="With its stereo partner, group and effect returns"
        onPress={() => onChoose('strip set', name, stripSetContent(profile, state, [strip]))}
      />
    </>
  );
}

function WholeDesk({
  profile,
  state,
  madeOn,
  onChoose,
}: {
  profile: Profile;
  state: State;
  madeOn: string;
  onChoose: Choose;
}) {
  return (
    <>
      <MenuRow
        title="A template"
        under="The desk’s setup without levels or processing: names, colours, sources, routing, layers"
        onPress={() => onChoose('template', `${madeOn}, set up`, presetContent('template', profile, state))}
      />
      <MenuRow
        title="The patch"
        under="Sources, stereo links and outputs; no levels"
        onPress={() => onChoose('patch', `${madeOn}, patch`, presetContent('patch', profile, state))}
      />
    </>
  );
}
