import type { MadeStretch } from "../useCases/stretchAround";

/** Audio from a song frame on, 32-bit floats channel by channel; where it begins stands in `x-stretch`. */
export const stretchBody = ({ from, channels }: MadeStretch): Response =>
  new Response(new Blob(channels.map((x) => new Float32Array(x))), {
    headers: {
      "content-type": "application/octet-stream",
      "x-stretch": JSON.stringify({ from, channels: channels.length }),
    },
  });
