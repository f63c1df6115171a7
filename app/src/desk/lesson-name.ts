import { readAddress } from '@old-echo/core/desk/address';
import type { Lesson, LessonSetting } from '@old-echo/core/desk/learn/lessons';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { fullSettingName } from '@old-echo/core/phrases/format-value';

/** "Inputs: EQ low gain": a kind of control. */
export function lessonName(profile: Profile, { shown }: Lesson): string {
  const family = stripFamily(profile, readAddress(shown.setting)?.strip ?? '');
  return `${family?.name ?? ''}: ${fullSettingName(profile, shown.setting, {})}`;
}

/** "Input 2, EQ low gain": one control. */
export const controlName = (profile: Profile, { setting }: LessonSetting): string =>
  `${profile.plainNames[readAddress(setting)?.strip ?? ''] ?? ''}, ${fullSettingName(profile, setting, {})}`;
