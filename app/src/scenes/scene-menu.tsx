import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { MAX_AT_HAND } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { EXPORT_ROUTES, SHEET_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import { CONVERSION_ROUTES, PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { CAPTURE_ROUTES, PRODUCTION_ROUTES, SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';

import { compareHref, LIVE_DESK } from '../components/links/compare-link';
import { SaveFromScene } from '../components/presets/save-preset-from-scene';
import { useSwap } from '../components/use-swap';
import { addressOf, ask } from '../store/ask';
import { useDesksQuery, useSetScenesAtHandMutation } from '../store/desk-api';
import {
  useBinMutation,
  useCopySceneMutation,
  useEditSceneMutation,
  useMoveSceneMutation,
  useProductionsQuery,
  useReplaceSceneMutation,
} from '../store/scenes-api';
import { useAppSelector } from '../store/store';
import { useLiveDesk, whyNotLinked } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { MenuRow } from '../ui/menu';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { VersionSheet } from './version-sheet';

interface SceneMenuProps {
  readonly scene: SceneView;
  readonly production: ProductionView;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onEdit: () => void;
}

/** Everything that can be done with a scene besides restoring it. */
export function SceneMenu({ scene, production, open, onClose, onEdit }: SceneMenuProps) {
  const router = useRouter();
  const now = useLiveDesk(production.deskId);
  const done = useRunAndNotify();
  const [asked, setAsked] = useState<'copy' | 'move' | 'version' | 'replace' | 'save' | null>(null);
  const [edit] = useEditSceneMutation();
  const swap = useSwap(now?.desk);
  const [copy] = useCopySceneMutation();
  const [bin] = useBinMutation();
  const [setScenesAtHand] = useSetScenesAtHandMutation();
  const called = sceneTitle(scene);
  const atHand = now?.desk.atHand.map(({ id }) => id) ?? [];
  const isAtHand = atHand.includes(scene.id);
  const then = (act: () => void) => () => {
    onClose();
    act();
  };
  const isProtected = scene.protected && 'It is protected.';
  const inBin = scene.binnedAt !== null && 'It is in the bin.';
  return (
    <>
      <Sheet title={called} open={open} onClose={onClose}>
        <MenuRow asks={SCENE_ROUTES.editScene} title="Edit name, note, tags and milestone" onPress={then(onEdit)} />
        <MenuRow
          title="Compare"
          under="With what is on the desk now, or any other"
          onPress={then(() =>
            router.navigate(
              compareHref({ a: scene.id, others: [LIVE_DESK], at: 0, cell: null, desk: production.deskId }),
            ),
          )}
        />
        <MenuRow
          asks={DESK_ROUTES.setScenesAtHand}
          title={isAtHand ? 'Remove from at hand' : 'Keep at hand'}
          under={isAtHand ? 'The scene stays where it is' : 'Its preview is one tap away there'}
          disabled={
            !now
              ? whyNotLinked(now)
              : !isAtHand && atHand.length >= MAX_AT_HAND && `There is room for ${MAX_AT_HAND}; remove one first`
          }
          onPress={then(() => {
            const ids = isAtHand ? atHand.filter((id) => id !== scene.id) : [...atHand, scene.id];
            void done(setScenesAtHand({ desk: now?.desk.id ?? '', ids }), () =>
              isAtHand ? `${called} removed from at hand.` : `${called} is at hand on the desk.`,
            );
          })}
        />
        <MenuRow
          asks={DESK_RECALL_ROUTES.swap}
          title="Swap to it"
          under="Swap (key F) then goes to this scene and back"
          disabled={inBin || whyNotLinked(now)}
          onPress={then(() => swap(scene))}
        />
        <MenuRow
          asks={SCENE_ROUTES.editScene}
          title={scene.protected ? 'Unprotect' : 'Protect'}
          under={scene.protected ? 'Can be replaced and binned again' : 'Cannot be replaced or binned'}
          onPress={then(() => {
            const change = { protected: !scene.protected, revision: scene.revision };
            void done(edit({ id: scene.id, edit: change }), () =>
              scene.protected ? `${called} is unprotected.` : `${called} is protected.`,
            );
          })}
        />
        <MenuRow
          asks={CAPTURE_ROUTES.replaceScene}
          title="Replace with the desk as it is now"
          under="The old one goes to the bin"
          disabled={isProtected || inBin || whyNotLinked(now)}
          onPress={then(() => setAsked('replace'))}
        />
        <MenuRow
          asks={PRODUCTION_ROUTES.createVersion}
          title="New version from here"
          under="An instrumental, a clean mix, a broadcast edit: it begins with this scene"
          onPress={then(() => setAsked('version'))}
        />
        <MenuRow
          asks={SCENE_ROUTES.copyScene}
          title="Duplicate"
          onPress={then(() => {
            void done(
              copy({ id: scene.id, versionId: scene.versionId }),
              (made) => `${sceneTitle(made)} is a copy of ${called}.`,
            ).then((made) => made && router.navigate(`/mixes/${production.id}/scene/${made.id}`));
          })}
        />
        <MenuRow asks={SCENE_ROUTES.copyScene} title="Copy to another version" onPress={then(() => setAsked('copy'))} />
        <MenuRow asks={SCENE_ROUTES.moveScene} title="Move to another version" onPress={then(() => setAsked('move'))} />
        <MenuRow
          asks={PRESET_ROUTES.savePreset}
          title="Save from it to the library"
          under="A strip, a processor, a strip set, a template"
          onPress={then(() => setAsked('save'))}
        />
        <MenuRow
          asks={CONVERSION_ROUTES.startConversion}
          title="Carry over to another desk"
          under="Strips are matched by part, then by name"
          onPress={then(() => router.navigate(`/convert?production=${production.id}&scene=${scene.id}`))}
        />
        <MenuRow
          asks={EXPORT_ROUTES.exportScene}
          title="Save as a file"
          onPress={then(() =>
            window.location.assign(addressOf(EXPORT_ROUTES.exportScene, { params: { id: scene.id } })),
          )}
        />
        <MenuRow
          title="Recall sheet"
          under="All settings, to print"
          onPress={then(() => window.open(addressOf(SHEET_ROUTES.recallSheet, { params: { id: scene.id } }), '_blank'))}
        />
        <MenuRow
          asks={SCENE_ROUTES.binScene}
          title="Move to the bin"
          under="You can take it out again"
          disabled={isProtected || inBin}
          onPress={then(() => {
            const undo = ask(SCENE_ROUTES.unbinScene, { params: { id: scene.id } });
            void done(bin(`scenes/${scene.id}`), () => `${called} is in the bin.`, undo).then(
              (went) => went && router.navigate(`/mixes/${production.id}`),
            );
          })}
        />
      </Sheet>
      {asked === 'save' ? <SaveFromScene scene={scene} onClose={() => setAsked(null)} /> : null}
      <VersionSheet production={production} from={scene} open={asked === 'version'} onClose={() => setAsked(null)} />
      <TargetSheet
        how={asked === 'copy' ? 'copy' : 'move'}
        scene={scene}
        open={asked === 'copy' || asked === 'move'}
        onClose={() => setAsked(null)}
      />
      <ReplaceSheet
        scene={scene}
        deskId={production.deskId}
        open={asked === 'replace'}
        onClose={() => setAsked(null)}
      />
    </>
  );
}

interface AskedProps {
  readonly scene: SceneView;
  readonly open: boolean;
  readonly onClose: () => void;
}

/** To which version a scene is copied or moved: any on the same kind of desk. */
function TargetSheet({ how, scene, open, onClose }: AskedProps & { readonly how: 'copy' | 'move' }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: productions = [] } = useProductionsQuery();
  const { data: desks = [] } = useDesksQuery();
  const [copy] = useCopySceneMutation();
  const [move] = useMoveSceneMutation();
  const kindOf = (deskId: string | undefined) => desks.find((desk) => desk.id === deskId)?.profileId;
  const own = kindOf(productions.find((p) => p.id === scene.productionId)?.deskId);
  const fitting = productions.filter((p) => !p.binnedAt && kindOf(p.deskId) === own);
  const targets = fitting.flatMap((p) => p.versions.map((version) => ({ production: p, version })));
  const called = sceneTitle(scene);
  const go = (versionId: string, name: string) => {
    onClose();
    const back = { params: { id: scene.id }, body: { versionId: scene.versionId } };
    const undo = how === 'move' ? ask(SCENE_ROUTES.moveScene, back) : undefined;
    const asked = (how === 'copy' ? copy : move)({ id: scene.id, versionId });
    void done(
      asked,
      (made) => `${called} was ${how === 'copy' ? 'copied' : 'moved'} to ${name}, as ${sceneTitle(made)}.`,
      undo,
    ).then((made) => made && router.navigate(`/mixes/${made.productionId}/scene/${made.id}`));
  };
  return (
    <Sheet title={how === 'copy' ? `Copy ${called} to` : `Move ${called} to`} open={open} onClose={onClose}>
      {targets
        .filter(({ version }) => how === 'copy' || version.id !== scene.versionId)
        .map(({ production, version }) => (
          <Option
            key={version.id}
            title={version.name}
            under={production.name}
            chosen={version.id === scene.versionId}
            onPress={() => go(version.id, version.name)}
          />
        ))}
    </Sheet>
  );
}

/** Asks before what stands on the desk takes the place of a scene. */
function ReplaceSheet({ scene, deskId, open, onClose }: AskedProps & { readonly deskId: string }) {
  const router = useRouter();
  const now = useLiveDesk(deskId);
  const done = useRunAndNotify();
  const [replace, { isLoading }] = useReplaceSceneMutation();
  const by = useAppSelector((root) => root.place.who);
  return (
    <Sheet title={`Replace ${sceneTitle(scene)}?`} open={open} onClose={onClose}>
      <View style={styles.ask}>
        <AppText>
          {now?.desk.name} as it is now takes this scene’s name, note, tags, milestone and place at hand. The old scene
          goes to the bin.
        </AppText>
        <Action
          kind="main"
          title="Replace"
          busy={isLoading}
          onPress={() =>
            void done(
              replace({ desk: deskId, sceneId: scene.id, revision: scene.revision, by }),
              (made) => `${made.number} ${made.name} saved from the desk. The old scene is in the bin.`,
            ).then((made) => {
              onClose();
              if (made) router.navigate(`/mixes/${made.productionId}/scene/${made.id}`);
            })
          }
        />
        <Action title="Cancel" onPress={onClose} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({ ask: { gap: SPACE.m, paddingBottom: SPACE.s } });
