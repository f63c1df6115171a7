/** A row of `desks`. */
export interface DeskRow {
  readonly id: string;
  readonly name: string;
  readonly profile_id: string;
  readonly host: string;
  readonly port: number;
  readonly mode: 'studio' | 'live';
  readonly safes: unknown;
  readonly place: number;
  readonly scene_id: string | null;
  readonly lease_by: string | null;
  readonly lease_until: Date | null;
  readonly thresholds: unknown;
  readonly show_lock: 0 | 1;
  readonly hand_holds: 'control' | 'strip';
  readonly swap_scene_id: string | null;
  readonly swap_scope: unknown;
}
