/** Why something of a strip is otherwise on another strip, or not there at all. */
export type ConversionReason =
  | 'range'
  | 'no equivalent'
  | 'not on desk'
  | 'destination left behind'
  | 'group left behind'
  | 'no band free'
  | 'band width fixed'
  | 'no inserts'
  | 'no insert free'
  | 'no strip'
  | 'no strip free'
  | 'no group free'
  | 'no effect return free'
  | 'partner elsewhere';
