import { View } from 'react-native';

import type { Dependency } from '@old-echo/core/combine/find-dependencies';
import { displayName } from '@old-echo/core/desk/state';
import { describeDependency } from '@old-echo/core/phrases/describe-dependency';
import { sectionOfCell } from '@old-echo/core/phrases/describe-origins';
import { joinWithAnd, sectionNameInText } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card, Empty } from '../ui/layout';
import type { Combination } from './use-combination';

interface DependencyListProps {
  readonly combination: Combination;
  readonly found: readonly Dependency[];
  readonly nameOf: (scene: string) => string;
}

/** What was taken leans on something that did not come along: what, why, and one touch to take it as well. */
export function DependencyList({ combination, found, nameOf }: DependencyListProps) {
  const { profile, base, pick } = combination;
  if (found.length === 0) return <Empty title="Nothing else is needed">Everything taken works here.</Empty>;
  return (
    <View testID="dependencies">
      {found.map((dependency) => {
        const { kind, on, scene, fix } = dependency;
        const what = [...new Set(fix.map((cell) => sectionOfCell(cell)))].map(sectionNameInText);
        const strips = [...new Set(fix.map((cell) => cell.slice(0, cell.indexOf('/'))))];
        const whose =
          strips.length > 3
            ? `${strips.length} strips`
            : joinWithAnd(strips.map((strip) => displayName(profile, base.state, strip)));
        return (
          <Card key={`${kind} ${on} ${scene}`} edge="care">
            <AppText>{describeDependency(profile, base.state, dependency, nameOf(scene))}</AppText>
            <Action
              title={`Take ${joinWithAnd(what)} of ${whose} too`}
              onPress={() => pick(Object.fromEntries(fix.map((cell) => [cell, scene])))}
            />
          </Card>
        );
      })}
    </View>
  );
}
