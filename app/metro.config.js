const { getDefaultConfig } = require('expo/metro-config');

const config = getDefaultConfig(__dirname);

// React Native Paper looks for an icon font of 1.3 MB, which is never shown: icons are drawn from paths (src/ui/icon.tsx).
const resolve = config.resolver.resolveRequest;
config.resolver.resolveRequest = (context, name, platform) =>
  name.endsWith('MaterialCommunityIcons') || name.includes('material-design-icons')
    ? { type: 'empty' }
    : (resolve ?? context.resolveRequest)(context, name, platform);

module.exports = config;
