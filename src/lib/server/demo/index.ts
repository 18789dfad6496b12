export { DEMO_MODIFIED, listDemo, openDemo } from './demo-files';
export type { DemoFile } from './demo-files';
