import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  // types are checked by bin/test; the build must not need it twice
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  poweredByHeader: false,
  serverExternalPackages: ['pg', 'graphile-worker'],
};

export default config;
