import { Redirect } from 'expo-router';

/** Where the picture that lets a phone in leads; whoever is in already goes on to the desk. */
export default function Enter() {
  return <Redirect href="/" />;
}
