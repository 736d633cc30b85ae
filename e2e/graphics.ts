import type { Page } from "@playwright/test";

/** What a page holds on the graphics card. */
interface Held {
  buffers: number;
  arrays: number;
  textures: number;
}

/** Count from now on what is opened on the graphics card and not let go of. */
export async function watchGraphics(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const counts = { buffers: 0, arrays: 0, textures: 0 };
    Object.assign(window, { graphics: counts });
    const gl = WebGL2RenderingContext.prototype;
    const watch = (
      make: "createBuffer" | "createVertexArray" | "createTexture",
      drop: "deleteBuffer" | "deleteVertexArray" | "deleteTexture",
      name: keyof typeof counts,
    ) => {
      const [making, dropping] = [gl[make], gl[drop]];
      Object.assign(gl, {
        [make]() {
          counts[name]++;
          return making.call(this);
        },
        [drop](this: WebGL2RenderingContext, object: WebGLBuffer & WebGLVertexArrayObject & WebGLTexture) {
          if (object) counts[name]--;
          return dropping.call(this, object);
        },
      });
    };
    watch("createBuffer", "deleteBuffer", "buffers");
    watch("createVertexArray", "deleteVertexArray", "arrays");
    watch("createTexture", "deleteTexture", "textures");
  });
}

export const graphicsOf = (page: Page): Promise<Held> => page.evaluate(() => ({ ...(window as unknown as { graphics: Held }).graphics }));
