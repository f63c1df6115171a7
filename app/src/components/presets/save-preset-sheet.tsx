import { useState } from 'react';

import {
  presetContent,
  isBus,
  kitContent,
  PROCESSORS,
  processorOf,
  type PresetContent,
  type PresetKind,
} from '@old-echo/core/library/preset';
import { insertChain } from '@old-echo/core/signal/insert-chain';
import { stripFamily, type Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { capitalise, truncate, plural, sectionName } from '@old-echo/core/desk/format-value';

import { MenuRow } from '../../ui/menu';
import { Sheet } from '../../ui/sheet';
import { PresetSheet, type PresetDraft } from './preset-sheet';

interface SaveFromProps {
  readonly profile: Profile;
  readonly state: State;
  /** The desk, or the scene, by name. */
  readonly madeOn: string;
  /** None: the whole desk; one: it and its processors; several: a kit of them. */
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
      <Sheet title="Save in the library" open={open && !savable} onClose={onClose}>
        {strip === undefined ? (
          <WholeDesk profile={profile} state={state} madeOn={madeOn} onChoose={choose} />
        ) : strips.length > 1 ? (
          <MenuRow
            title={`A kit of ${plural(strips.length, 'strip')}`}
            under="With their links, the groups they go to, and the effect returns they feed"
            onPress={() =>
              choose(
                'kit',
                strips.map((one) => displayName(profile, state, one)).join(', '),
                kitContent(profile, state, strips),
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
        under="All of its sections; which of them land elsewhere is chosen there"
        onPress={() => onChoose('strip', name, presetContent('strip', profile, state, strip))}
      />
      {isBus(strip) ? (
        <MenuRow
          title="The bus"
          under="Its processing, wherever its fader stands"
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
        title="A kit of it"
        under="With its linked half, its group, and the effect returns it feeds"
        onPress={() => onChoose('kit', name, kitContent(profile, state, [strip]))}
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
        under="The whole desk without its sound: names, colours, sources, routing, layers"
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
