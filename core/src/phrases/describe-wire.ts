import { readAddress } from '../desk/address';
import type { LoggedMessage } from '../desk/logged-message';
import { type Profile, specOf } from '../desk/profile';
import { displayName } from '../desk/state';
import { formatValue, fullSettingName, plural } from './format-value';

/** The arguments as they stand in the message: "−6.5, "Wren vox", true". */
export const wireArguments = ({ address, args }: LoggedMessage): string =>
  address === ''
    ? plural(Number(args[0]), 'byte')
    : args.map((arg) => (typeof arg === 'string' ? `"${arg}"` : String(arg))).join(', ');

/** What a message says of the desk: "Input 7 Fader −12.0 dB"; empty where it is about the link itself. */
export const wireMeaning = ({ settings }: LoggedMessage, profile: Profile): string =>
  settings
    .map(({ setting, value }) => {
      const spec = specOf(profile, setting);
      const name = `${displayName(profile, {}, readAddress(setting)?.strip ?? '')} ${fullSettingName(profile, setting)}`;
      return spec && value !== null ? `${name} ${formatValue(spec, value)}` : `${name}: not a value it can have`;
    })
    .join(' · ');
