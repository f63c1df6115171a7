/** The address bar that the app's own tests run under: what stands in it, and where the app went from there. */
export const router = {
  /** What the address says; a test sets it before it shows a screen. */
  params: {} as Record<string, string | undefined>,
  navigate: jest.fn<void, [to: unknown, options?: unknown]>(),
  push: jest.fn<void, [to: unknown]>(),
  replace: jest.fn<void, [to: unknown]>(),
  back: jest.fn<void, []>(),
  setParams: (more: Record<string, string | undefined>): void => {
    router.params = { ...router.params, ...more };
  },
  canGoBack: jest.fn(() => false),
};

// What screens ask of Expo Router.
export const useRouter = () => router;
export const usePathname = () => '/';
export const useGlobalSearchParams = () => router.params;
export const useLocalSearchParams = () => router.params;
export const Redirect = ({ href }: { href: unknown }) => `to ${JSON.stringify(href)}`;
export const Slot = () => null;
