import adapter from '@sveltejs/adapter-node';

/** @type {import('@sveltejs/kit').Config} */
export default {
  compilerOptions: {
    runes: ({ filename }) => (filename.includes('/node_modules/') ? undefined : true),
  },
  kit: {
    // Tests build beside a build that may be in use.
    adapter: adapter({ precompress: true, out: process.env.LECTORUM_BUILD ?? 'build' }),
    paths: { relative: false },
    csp: {
      mode: 'auto',
      directives: {
        'default-src': ['self'],
        'script-src': ['self', 'wasm-unsafe-eval'],
        'worker-src': ['self', 'blob:'],
        'style-src': ['self'],
        // Virtual lists and popovers are placed by style attributes.
        'style-src-attr': ['unsafe-inline'],
        'img-src': ['self', 'blob:', 'data:'],
        'media-src': ['self', 'blob:'],
        'connect-src': ['self', 'blob:'],
        'object-src': ['none'],
        'base-uri': ['self'],
        'form-action': ['self'],
        'frame-ancestors': ['none'],
      },
    },
  },
};
