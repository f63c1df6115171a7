export { SettingsScreen as default } from '../src/desk/settings-screen';
