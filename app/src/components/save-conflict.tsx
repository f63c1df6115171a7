import type { ApiFault } from '../store/api';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { Words } from '../ui/app-text';

interface RefusedProps {
  readonly fault: ApiFault;
  /** What it reads now, where someone else has changed it meanwhile. */
  readonly now?: string | undefined;
  /** Saves what was typed over that. */
  readonly onOver: () => void;
}

/** Why what was typed could not be saved; nothing of it is lost. */
export function Refused({ fault, now, onOver }: RefusedProps) {
  return (
    <Card edge="stop">
      <Words kind="strong">{fault.message}</Words>
      <Words>{fault.advice}</Words>
      {now === undefined ? null : (
        <>
          <Words tone="second">It reads now: {now}</Words>
          <Action title="Save mine over it" onPress={onOver} />
        </>
      )}
    </Card>
  );
}
