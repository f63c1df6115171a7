import { CheckRow } from '../components/check-row';

interface IncludePatchProps {
  readonly under: string;
  readonly included: boolean;
  readonly onChange: (included: boolean) => void;
}

/** Whether what feeds the strips comes along; off unless asked for, since no two stages are patched alike. */
export const IncludePatch = ({ under, included, onChange }: IncludePatchProps) => (
  <CheckRow
    name="Include the patch"
    under={under}
    tick={included ? 'all' : 'none'}
    testID="with-patch"
    onPress={() => onChange(!included)}
  />
);
