import { AppText } from '../../ui/app-text';
import { Card } from '../../ui/layout';
import type { ModelDraft } from './use-model-draft';

/** Why a model cannot be read as it is typed, where it cannot. */
export const ModelFault = ({ profile }: Pick<ModelDraft, 'profile'>) =>
  typeof profile === 'string' ? (
    <Card edge="stop">
      <AppText aria-live="polite" testID="model-fault">
        {profile}
      </AppText>
    </Card>
  ) : null;
