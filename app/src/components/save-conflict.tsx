import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { FaultCard } from './fault-card';

interface SaveConflictProps {
  /** What saving was refused with. */
  readonly error: unknown;
  /** What it reads now, where someone else has changed it meanwhile. */
  readonly now?: string | undefined;
  /** Saves what was typed over that. */
  readonly onOver: () => void;
}

/** Why what was typed could not be saved; nothing of it is lost. */
export const SaveConflict = ({ error, now, onOver }: SaveConflictProps) => (
  <FaultCard error={error}>
    {now === undefined ? null : (
      <>
        <AppText tone="second">Now reads: {now}</AppText>
        <Action title="Save mine instead" onPress={onOver} />
      </>
    )}
  </FaultCard>
);
