import { StyleSheet, View } from 'react-native';

import type { FileNode, LocalStatus } from '@old-echo/core/contracts/file-transfer';

import { CheckRow } from '../components/check-row';
import { SPACE } from '../ui/tokens';

const HERE: Readonly<Record<LocalStatus, string>> = { new: 'new', same: 'already here', different: 'differs here' };

/** What is in nothing else: each comes in or goes out by itself. */
export const leaves = (branches: readonly FileNode[]): FileNode[] =>
  branches.flatMap((branch) => (branch.children.length > 0 ? leaves(branch.children) : [branch]));

interface TreeProps {
  readonly branches: readonly FileNode[];
  /** The leaves that are chosen, by id. */
  readonly taken: ReadonlySet<string>;
  readonly onTaken: (taken: ReadonlySet<string>) => void;
}

/** What a file holds or will hold: of each branch all, some or nothing is chosen. */
export function FileTree({ branches, taken, onTaken }: TreeProps) {
  return branches.map((branch) => {
    const ids = leaves([branch]).map(({ id }) => id);
    const count = ids.filter((id) => taken.has(id)).length;
    const tick = count === 0 ? 'none' : count === ids.length ? 'all' : 'some';
    const toggle = () => {
      const next = new Set(taken);
      for (const id of ids)
        if (tick === 'all') next.delete(id);
        else next.add(id);
      onTaken(next);
    };
    return (
      <View key={branch.id}>
        <CheckRow
          name={branch.name}
          under={branch.under}
          tick={tick}
          testID={`include-${branch.id}`}
          onPress={toggle}
          {...(branch.here ? { side: HERE[branch.here] } : {})}
        />
        {branch.children.length > 0 ? (
          <View style={styles.inside}>
            <FileTree branches={branch.children} taken={taken} onTaken={onTaken} />
          </View>
        ) : null}
      </View>
    );
  });
}

const styles = StyleSheet.create({ inside: { paddingLeft: SPACE.xl } });
