/** How the ground is shaded. */
export type Shading = 'hill' | 'slope' | 'level' | 'none';

export type LayerId = 'contours' | 'breaklines' | 'points' | 'road' | 'works' | 'triangles' | 'suspects' | 'backdrop';

const KEY = 'delgrun-map';

interface Looks {
  shading: Shading;
  smooth: boolean;
  /** Contour interval a person chose [m]; 0: as suits the ground. */
  interval: number;
  /** Layers a person switched, by step. */
  layers: Record<string, Partial<Record<LayerId, boolean>>>;
}

const FIRST: Looks = { shading: 'hill', smooth: false, interval: 0, layers: {} };

function stored(): Looks {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof found === 'object' && found !== null ? { ...FIRST, ...found } : FIRST;
  } catch {
    // What somebody else wrote there is no look of a map: begin anew.
    return FIRST;
  }
}

/** How the map looks, the same one in every step: what is switched on, shading, and which part of the plane. */
export class MapLook {
  #looks = $state.raw<Looks>(stored());
  /** Middle and metres a pixel; null: fit what there is. */
  view: { centre: [number, number]; resolution: number } | null = null;

  /** @param firsts the layers that a step shows until a person changes that */
  constructor(private readonly firsts: (step: string) => LayerId[]) {}

  get looks(): Readonly<Looks> {
    return this.#looks;
  }

  shows(step: string, id: LayerId): boolean {
    return this.#looks.layers[step]?.[id] ?? this.firsts(step).includes(id);
  }

  toggle(step: string, id: LayerId): void {
    const layers = { ...this.#looks.layers, [step]: { ...this.#looks.layers[step], [id]: !this.shows(step, id) } };
    this.put({ layers });
  }

  put(part: Partial<Looks>): void {
    this.#looks = { ...this.#looks, ...part };
    localStorage.setItem(KEY, JSON.stringify(this.#looks));
  }
}
