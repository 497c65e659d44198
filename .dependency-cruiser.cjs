/** Imports point one way: geometry ← part, stock, tooling, machine, holding, cutting, motion ← operations ← checks ← plan ← nc; geometry ← part ← solid; all ← workers, cli, server ← app, ui. */
const layer = (path) => ({ path: `^src/${path}` });
const never = (name, from, to, comment) => ({ name, severity: 'error', comment, from: { ...layer(from), pathNot: '\\.test\\.ts$' }, to: { path: to.map((t) => (t.startsWith('^') ? t : `^src/${t}`)) } });
module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: { pathNot: '\\.test\\.ts$' }, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    never('core-stands-alone', 'core/', ['(app|ui|server|db|workers|cli)/', '^node_modules/(react|react-dom|next|three|pg|zustand)/', '^(fs|path|child_process|http|os)$'], 'the core knows no screen, server, database or Node'),
    never('geometry-is-the-ground', 'core/geometry/', ['core/(?!geometry/)'], 'geometry imports nothing of the core'),
    never('parts-know-no-operations', 'core/(part|stock|tooling|machine|holding|cutting|motion|units)/', ['core/(operations|plan|checks|nc)/'], 'the middle layer knows nothing above it'),
    never('operations-know-no-plan', 'core/operations/', ['core/(plan|checks|nc)/'], 'an operation knows its context only'),
    never('checks-know-no-plan', 'core/checks/', ['core/(plan|nc)/'], 'checks look at motion and stock'),
    never('plan-knows-no-nc', 'core/plan/', ['core/nc/'], 'the plan does not depend on its posting'),
    never('reader-apart-from-post', 'core/dialects/[^/]+/reader/', ['core/(plan|operations|checks|nc)/', 'core/dialects/[^/]+/post'], 'the reader is written apart from the post'),
    never('post-apart-from-reader', 'core/dialects/[^/]+/post', ['core/dialects/[^/]+/reader/'], 'the post is written apart from the reader'),
    never('solids-stand-on-the-part', 'solid/', ['core/(?!geometry/|part/)', '(app|ui|server|db|workers|cli)/'], 'solids become parts and know nothing of plans'),
    never('core-knows-no-solids', 'core/', ['solid/', '^node_modules/replicad'], 'the kernel is behind src/solid'),
    never('database-below-screens', '(db|server|cli|workers)/', ['(ui|app)/'], 'screens are on top'),
  ],
  options: { doNotFollow: { path: 'node_modules' }, tsConfig: { fileName: 'tsconfig.json' }, tsPreCompilationDeps: true, enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js'] } },
};
