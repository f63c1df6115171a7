import { useState } from 'react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { sceneTitle } from '@old-echo/core/contracts/scene';

import { AnySceneSheet } from '../components/any-scene-sheet';
import { usePresetsQuery } from '../store/library-api';
import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Empty } from '../ui/layout';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';

/** What a new song or show begins with: nothing, a copy of a scene, or a template that is put on its desk. */
export interface Beginning {
  readonly from: 'nothing' | 'scene' | 'template';
  readonly id: string | null;
  readonly name: string;
}
export const EMPTY_BEGINNING: Beginning = { from: 'nothing', id: null, name: '' };

interface BeginWithProps {
  readonly desk: DeskView | undefined;
  readonly begins: Beginning;
  readonly onChange: (begins: Beginning) => void;
}

export function BeginWith({ desk, begins, onChange }: BeginWithProps) {
  const [choosing, setChoosing] = useState<Beginning['from']>('nothing');
  const { data: presets = [] } = usePresetsQuery();
  const templates = presets.filter(({ kind, binnedAt }) => kind === 'template' && !binnedAt);
  const close = () => setChoosing('nothing');
  const named = (from: Beginning['from'], otherwise: string) => (begins.from === from ? begins.name : otherwise);
  return (
    <>
      <AppText kind="strong">Begins with</AppText>
      <ChipRow role="tablist">
        <Chip title="Nothing" chosen={begins.from === 'nothing'} onPress={() => onChange(EMPTY_BEGINNING)} />
        <Chip
          title={named('scene', 'A scene …')}
          chosen={begins.from === 'scene'}
          onPress={() => setChoosing('scene')}
        />
        <Chip
          title={named('template', 'A template …')}
          chosen={begins.from === 'template'}
          onPress={() => setChoosing('template')}
        />
      </ChipRow>
      {begins.from === 'template' ? (
        <AppText kind="small" tone="second">
          You see what it changes on {desk?.name} before anything is sent.
        </AppText>
      ) : null}
      <AnySceneSheet
        title={`A scene to begin with, from a ${desk?.name}`}
        profileId={desk?.profileId}
        chosen={begins.id ?? undefined}
        open={choosing === 'scene'}
        onClose={close}
        onChoose={(scene) => onChange({ from: 'scene', id: scene.id, name: sceneTitle(scene) })}
      />
      <Sheet title="A template to begin with" open={choosing === 'template'} onClose={close}>
        {templates.map(({ id, name, madeOn, note }) => (
          <Option
            key={id}
            title={name}
            under={[`From ${madeOn}`, note].filter(Boolean).join(' · ')}
            chosen={begins.id === id}
            onPress={() => {
              onChange({ from: 'template', id, name });
              close();
            }}
          />
        ))}
        {templates.length === 0 ? (
          <Empty title="No templates yet">
            Set a desk up, then choose “Save from the desk” in the library, and “Set up”.
          </Empty>
        ) : null}
      </Sheet>
    </>
  );
}
