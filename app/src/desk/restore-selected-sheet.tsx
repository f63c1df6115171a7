import { useMemo, useState } from 'react';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { SECTIONS } from '@old-echo/core/desk/sections';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { Loading } from '../components/loading';
import { useTouchRecall } from '../components/restore-at-once';
import { SceneSheet } from '../components/scene-picker-sheet';
import { useSceneStateQuery } from '../store/scenes-api';
import type { LiveDesk } from '../store/use-live-desk';
import { Empty } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';

interface RestoreSelectedProps {
  readonly now: LiveDesk;
  /** Where the scenes are from that are offered. */
  readonly production: ProductionView;
  readonly strips: readonly string[];
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Brings selected strips back from a scene: which scene, then all of them or one section. */
export function RestoreSelectedSheet({ now, production, strips, open, onClose }: RestoreSelectedProps) {
  const [scene, setScene] = useState<SceneView | null>(null);
  return (
    <>
      <SceneSheet
        title={`Restore ${plural(strips.length, 'strip')} from`}
        production={production}
        chosen={now.desk.scene?.id}
        open={open && scene === null}
        onClose={onClose}
        onChoose={setScene}
      />
      {scene ? <Sections now={now} scene={scene} strips={strips} onClose={() => setScene(null)} /> : null}
    </>
  );
}

interface SectionsProps extends Pick<RestoreSelectedProps, 'now' | 'strips' | 'onClose'> {
  readonly scene: SceneView;
}

/** What of the strips differs in the scene, section by section; a touch restores it. */
function Sections({ now, scene, strips, onClose }: SectionsProps) {
  const touch = useTouchRecall(now.desk);
  const state = useSceneStateQuery(scene.id).data;
  const differing = useMemo(
    () => state && diffStates(now.profile, now.state, state).filter(({ strip }) => strips.includes(strip)),
    [now.profile, now.state, state, strips],
  );
  const restore = (sections: string[]) => {
    onClose();
    touch(sceneRecall(now.desk.id, scene.id, [{ strips: [...strips], sections, include: true }]), {
      said: (title) => `${plural(strips.length, 'strip')} restored from ${title}`,
    });
  };
  const sections = SECTIONS.filter((section) => differing?.some((change) => change.section === section));
  const count = (section?: string) => {
    const those = differing?.filter((change) => section === undefined || change.section === section) ?? [];
    return `${plural(those.length, 'setting')} on ${plural(new Set(those.map(({ strip }) => strip)).size, 'strip')}`;
  };
  return (
    <Sheet title={`${plural(strips.length, 'strip')} from ${sceneTitle(scene)}`} open onClose={onClose}>
      {differing === undefined ? <Loading what="Loading the scene" /> : null}
      {differing?.length === 0 ? (
        <Empty title="Nothing differs">The desk holds these strips as they are in this scene.</Empty>
      ) : null}
      {sections.length > 1 ? <MenuRow title="All sections" under={count()} onPress={() => restore(['*'])} /> : null}
      {sections.map((section) => (
        <MenuRow key={section} title={sectionName(section)} under={count(section)} onPress={() => restore([section])} />
      ))}
    </Sheet>
  );
}
