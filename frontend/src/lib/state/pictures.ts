import { api, ask, upload, type Schemas } from '../../api/client';
import type { Work } from './work.svelte';

/** Whether a file says where a picture lies: six numbers in lines. */
const isWorld = (name: string): boolean => /\.(jgw|jpgw|pgw|pngw|tfw|tifw|wld)$/i.test(name);

/** Lay a picture of one's own under the map, with its world file if that was chosen too; the reason where refused. */
export async function layPicture(w: Work, files: File[]): Promise<string | null> {
  const project = w.project;
  const picture = files.find((f) => !isWorld(f.name));
  if (!project || !picture) return 'Choose a GeoTIFF, or a picture together with its world file.';
  try {
    const world = (await files.find((f) => isWorld(f.name))?.text()) ?? '';
    const path = { project_id: project.id };
    const body = { file_name: picture.name, size: picture.size };
    const begun = await ask(api.POST('/api/projects/{project_id}/uploads', { params: { path }, body }));
    const pieces = Math.ceil(begun.size / begun.piece_bytes);
    for (let k = 0; k < pieces; k++) {
      const part = picture.slice(k * begun.piece_bytes, (k + 1) * begun.piece_bytes);
      const url = `/api/projects/${project.id}/uploads/${begun.id}/pieces/${k}`;
      await upload<Schemas['UploadOut']>(url, part, picture.name, {});
    }
    return await w.save({
      what: 'the picture under the map',
      send: async ({ path, base, token }) => {
        const laid = await ask(
          api.POST('/api/projects/{project_id}/land/picture', {
            params: { path },
            body: { base, token, upload_id: begun.id, world },
          }),
        );
        if (laid.said?.length) w.notices.say(laid.said.join(' '), true);
        return laid;
      },
    });
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}
