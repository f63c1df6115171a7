import { View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import type { JobView } from '@old-echo/core/contracts/job';
import { plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';

interface JobProgressProps {
  /** Undefined until it is known how far it is. */
  readonly job: Pick<JobView, 'done' | 'total'> | null | undefined;
  /** What it counts: "scene". */
  readonly of: string;
}

/** How far long work is, while it runs. */
export function JobProgress({ job, of }: JobProgressProps) {
  const known = job && job.total > 0;
  return (
    <Card>
      <View testID="job-progress" accessibilityLiveRegion="polite">
        <AppText>{known ? `${job.done} of ${plural(job.total, of)}` : 'Reading …'}</AppText>
        <ProgressBar
          accessibilityLabel="Progress"
          {...(known ? { progress: job.done / job.total } : { indeterminate: true })}
        />
      </View>
    </Card>
  );
}
