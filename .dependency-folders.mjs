/** Folders lean on each other one way only. Tests are left out: they may ask the whole house. */
import files from './.dependency-cruiser.mjs';

export default {
  forbidden: [{ name: 'no-circles-of-folders', severity: 'error', scope: 'folder', from: {}, to: { circular: true } }],
  options: { ...files.options, exclude: { path: '^(dist|data|node_modules)/|\\.test\\.tsx?$|/testing/' } },
};
