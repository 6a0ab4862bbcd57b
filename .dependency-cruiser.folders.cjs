/** No folder may lead back to itself by way of others. Tests may: they look at their subject from above. */
const { options } = require('./.dependency-cruiser.cjs');

module.exports = {
  forbidden: [{ name: 'no-folder-loops', severity: 'error', scope: 'folder', from: {}, to: { circular: true } }],
  options: { ...options, exclude: { path: '^core/assembly/|\\.test\\.ts$' } },
};
