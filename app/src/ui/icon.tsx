import type { LucideIcon } from 'lucide-react-native';

import { useLook } from './theme';

interface IconProps {
  /** One icon, imported by itself so that the others are not shipped. */
  readonly of: LucideIcon;
  readonly size?: number;
  readonly color?: string;
}

export function Icon({ of: Drawn, size = 24, color }: IconProps) {
  const look = useLook();
  return <Drawn size={size} color={color ?? look.ink} aria-hidden />;
}
