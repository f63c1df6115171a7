import { SettingsScreen } from '../src/desk/settings-screen';
import { OwnAccount } from '../src/people/own-account';

export default function Settings() {
  return <SettingsScreen account={<OwnAccount />} />;
}
