// What the steps lay over the plate: each registers its own.
import './plate/overlays.ts';
import './follow/overlays.ts';
import './seat/overlays.ts';
import './content/overlays.ts';
import './front/overlays.ts';
import './blend/overlays.ts';
import './send/overlays.ts';
