/** Which folder may import which: the directions of docs/ARCHITECTURE.md. */
const forbid = (name, from, to, comment) => ({
  name,
  severity: 'error',
  comment,
  from: { path: from, pathNot: '\\.test\\.ts$' },
  to: { path: to },
});
const NOT_CORE = '^(app|engine|codecs|server|cli|demo|bench|e2e|tests)/';

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '\\?url$' } },
    forbid('core-alone', '^core/', NOT_CORE, 'core computes; it knows of nobody else'),
    {
      name: 'core-pure',
      severity: 'error',
      comment: 'no Node, DOM or Vue in core',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core', 'npm'], pathNot: 'node_modules/(zod|@noble/hashes)/' },
    },
    forbid('raster-lowest', '^core/raster/', '^core/(?!raster/)', 'raster stands at the bottom'),
    forbid(
      'kernels-on-raster',
      '^core/kernels/',
      '^core/(?!kernels/|raster/|modes/)',
      'kernels use raster and formulas only',
    ),
    forbid('modes-alone', '^core/modes/', '^core/(?!modes/)', 'formulas of numbers'),
    forbid('color-low', '^core/color/', '^core/(?!color/|kernels/|raster/)', 'color uses kernels and raster only'),
    forbid(
      'align-low',
      '^core/align/',
      '^core/(?!align/|color/|kernels/|raster/|checks/limits)',
      'alignment knows pixels only, and which tones are usable',
    ),
    forbid('names-lowest', '^core/(ids|reading)\\.ts$', '^core/', 'ids and readings stand alone'),
    forbid('masks-low', '^core/masks/', '^core/(?!masks/|color/|kernels/|raster/|ids)', 'masks do not render'),
    forbid(
      'tiles-low',
      '^core/render/tiles/',
      '^core/(?!render/tiles/|modes/|masks/|color/|kernels/|raster/|ids)',
      'tiles know nothing of what is on them',
    ),
    forbid(
      'nodes-on-tiles',
      '^core/render/nodes/',
      '^core/(?!render/(nodes|tiles)/|align/|modes/|masks/|color/|kernels/|raster/|ids|reading|onFirstUse|checks/limits)',
      'a node computes; it knows no scene',
    ),
    forbid(
      'refinements-on-nodes',
      '^core/refinements/',
      '^core/(?!refinements/|render/(nodes|tiles)/|masks/|color/|kernels/|raster/|ids)',
      'a refinement is described without parts and scenes',
    ),
    forbid(
      'parts-below-scene',
      '^core/parts/',
      '^core/(scene|align|checks|render/plan)/',
      'a part is described without scenes',
    ),
    forbid(
      'develop-low',
      '^core/develop/',
      '^core/(?!develop/|refinements/settingRow|render/(nodes|tiles)/|modes/|masks/|color/|kernels/|raster/|onFirstUse)',
      'an adjustment is described without scenes',
    ),
    forbid(
      'scene-describes',
      '^core/scene/',
      '^core/(?!scene/|develop/|modes/|parts/|refinements/|masks/|ids|reading)',
      'a scene computes nothing',
    ),
    forbid(
      'codecs-low',
      '^codecs/',
      '^(app|engine|server|cli|demo|core/(render|masks|kernels))/',
      'codecs turn bytes into rows',
    ),
    forbid('engine-below-app', '^engine/', '^(app|server|cli|demo)/', 'the engine does not know who uses it'),
    forbid(
      'ui-without-scenes',
      '^app/ui/',
      '^(app/(stages|bench|storage)|engine|codecs)/',
      'ui parts know nothing of scenes',
    ),
    forbid('app-alone', '^app/', '^(server|cli|demo)/', 'the page and the command line do not meet'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^core/assembly/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.node.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'browser', 'types', 'default'] },
  },
};
