import { LaneDrawer, type DrawerMessage } from './laneDrawer.ts'

// Curves are drawn beside the page, so that zooming and panning do not wait for them.
const soon =
  typeof requestAnimationFrame === 'function' ? requestAnimationFrame : (work: () => void) => setTimeout(work)
const drawer = new LaneDrawer<OffscreenCanvas>((work) => void soon(work))
addEventListener('message', ({ data }: MessageEvent<DrawerMessage<OffscreenCanvas>>) => drawer.take(data))
