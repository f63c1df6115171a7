import { mixed, object } from 'yup';

/** A profile as its file has it; what it says is checked where it is read. */
export const newProfileShape = object({ source: mixed().required('a profile is missing') })
  .noUnknown()
  .required();

/** A model of desk in a line. */
export interface ProfileSummary {
  readonly id: string;
  readonly name: string;
  /** What it is made for. */
  readonly use: 'studio' | 'live';
  /** Whether no wire leads to any of it. */
  readonly manual: boolean;
  readonly strips: number;
  readonly settings: number;
}

/** A profile that is to take the place of one, and that one as it was when somebody began to change it. */
export const changedProfileShape = object({
  was: mixed().required('the profile as it was is missing'),
  source: mixed().required('a profile is missing'),
})
  .noUnknown()
  .required();
