import { isManual } from '../desk/manual';
import { muteChange } from './closed-ways';
import { fadeSteps } from './fade-steps';
import type { PlannedChange } from './planned-changes';
import { STAGES } from './restore-order';
import type { Step, StepsInput } from './step';

/** A restore step by step: at once, stage by stage, what falls before what rises; or as a fade. Nothing of it is turned by hand. */
export const stepsOf = (input: StepsInput): Step[] =>
  (input.fade > 0 ? fadeSteps(input) : atOnce(input))
    .map((step) => ({ ...step, changes: step.changes.filter(({ strip }) => !isManual(input.profile, strip)) }))
    .filter(({ changes }) => changes.length > 0);

function atOnce({ plan }: StepsInput): Step[] {
  const guards = plan.guarded.map((strip) => muteChange(strip, true, 'guard'));
  const opened = plan.guarded.map((strip) => muteChange(strip, false, 'release'));
  return STAGES.flatMap((stage): Step[] => {
    const own = plan.changes.filter((change) => change.stage === stage);
    const falling = [...(stage === 'guard' ? guards : []), ...own.filter((change) => !rises(change))];
    const rising = [...own.filter(rises), ...(stage === 'release' ? opened : [])];
    return [
      { stage, changes: falling, over: 0 },
      { stage, changes: rising, over: 0 },
    ];
  });
}

const rises = ({ from, to }: PlannedChange): boolean => typeof from === 'number' && typeof to === 'number' && to > from;
