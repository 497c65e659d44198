import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  // types are checked by bin/test; the build must not need it twice
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  poweredByHeader: false,
  // what has not changed is not rendered again: an edit is seen sooner
  reactCompiler: true,
  serverExternalPackages: ['pg', 'graphile-worker'],
};

export default config;
