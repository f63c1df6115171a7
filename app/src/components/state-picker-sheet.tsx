import { useLiveDesk } from '../store/use-live-desk';
import { Option } from '../ui/option';
import { AnySceneSheet } from './any-scene-sheet';
import { LIVE_DESK, type StateRef } from './links/compare-link';
import type { CompareSide } from './use-compare-side';

interface StateSheetProps {
  readonly title: string;
  readonly chosen: CompareSide | undefined;
  /** Whether it may be of another desk model than what is chosen. */
  readonly anyDesk?: boolean;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onChoose: (of: StateRef) => void;
}

/** Chooses a state: what is on the desk now, or a scene of any production, way backs included. */
export function StateSheet({ title, chosen, anyDesk, open, onClose, onChoose }: StateSheetProps) {
  const now = useLiveDesk();
  const model = chosen?.profile?.id ?? now?.profile.id;
  return (
    <AnySceneSheet
      title={title}
      profileId={anyDesk ? undefined : model}
      productionId={chosen?.productionId}
      chosen={chosen?.of}
      open={open}
      onClose={onClose}
      onChoose={(scene) => onChoose(scene.id)}
      first={
        now && (anyDesk || now.profile.id === model) ? (
          <Option
            title="On the desk now"
            under={now.desk.name}
            chosen={chosen?.of === LIVE_DESK}
            onPress={() => {
              onChoose(LIVE_DESK);
              onClose();
            }}
          />
        ) : null
      }
    />
  );
}
