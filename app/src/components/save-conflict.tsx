import type { ApiFault } from '../store/api';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { AppText } from '../ui/app-text';

interface RefusedProps {
  readonly fault: ApiFault;
  /** What it reads now, where someone else has changed it meanwhile. */
  readonly now?: string | undefined;
  /** Saves what was typed over that. */
  readonly onOver: () => void;
}

/** Why what was typed could not be saved; nothing of it is lost. */
export function SaveConflict({ fault, now, onOver }: RefusedProps) {
  return (
    <Card edge="stop">
      <AppText kind="strong">{fault.message}</AppText>
      <AppText>{fault.advice}</AppText>
      {now === undefined ? null : (
        <>
          <AppText tone="second">It reads now: {now}</AppText>
          <Action title="Save mine over it" onPress={onOver} />
        </>
      )}
    </Card>
  );
}
