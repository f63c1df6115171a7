import type { DeskPlace, NewDesk } from '@old-echo/core/contracts/desk';
import { linkTrialShape } from '@old-echo/core/contracts/link-trial';
import { describeLinkTrial } from '@old-echo/core/phrases/describe-link-trial';

import { FaultBelow } from '../components/fault-card';
import { useTryLinkMutation } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';

interface LinkTrialCardProps {
  readonly tried: Pick<NewDesk, 'profileId'> & Pick<DeskPlace, 'host' | 'port'>;
}

/** Looks at a desk where it is said to be, and tells what came of it; another address or model begins anew. */
export function LinkTrialCard({ tried }: LinkTrialCardProps) {
  const [begin, { data, error, isLoading, originalArgs }] = useTryLinkMutation();
  const isOfThis = JSON.stringify(originalArgs) === JSON.stringify(tried);
  const report = data && isOfThis ? describeLinkTrial(data) : undefined;
  const why = !linkTrialShape.isValidSync(tried) && 'Choose a model, and say the address and the port first.';
  return (
    <>
      <Action
        title={isLoading ? 'Trying the link …' : 'Try the link'}
        busy={isLoading}
        disabled={why}
        onPress={() => void begin(tried)}
      />
      {report ? (
        <Card edge={report.verdict}>
          <AppText kind="strong" aria-live="polite" testID="link-trial">
            {report.title}
          </AppText>
          {report.lines.map((line) => (
            <AppText key={line} tone="second">
              {line}
            </AppText>
          ))}
        </Card>
      ) : null}
      {isOfThis ? <FaultBelow error={error} /> : null}
    </>
  );
}
