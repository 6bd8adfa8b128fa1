import { api, ask } from '../../api/client';
import type { Work } from './work.svelte';

/** Delete the road that is looked at, with its grade lines. */
export async function deleteRoad(w: Work): Promise<string | null> {
  const [road, name] = [w.road!.slot, w.road!.name];
  const why = await w.save({
    what: `deleting “${name}”`,
    send: ({ path, base, token }) =>
      ask(api.POST('/api/projects/{project_id}/centreline/delete', { params: { path }, body: { base, token, road } })),
  });
  if (!why) {
    w.chooseRoad('centreline');
    w.notices.say(`“${name}” is deleted with its grade lines. Undo brings it back.`);
  }
  return why;
}

/** End the road that is looked at where its ground ends. */
export function shortenRoad(w: Work): Promise<string | null> {
  return w.save({
    what: 'the shortened centreline',
    send: ({ path, base, token }) => {
      const body = { base, token, road: w.road!.slot };
      return ask(api.POST('/api/projects/{project_id}/centreline/shorten', { params: { path }, body }));
    },
  });
}

/** Take a survey out of the ground. */
export function removeSurvey(w: Work, slot: string, name: string): Promise<string | null> {
  return w.save({
    what: `taking out “${name}”`,
    send: ({ path, base, token }) =>
      ask(
        api.POST('/api/projects/{project_id}/surveys/{slot}/remove', {
          params: { path: { ...path, slot } },
          body: { base, token },
        }),
      ),
  });
}
