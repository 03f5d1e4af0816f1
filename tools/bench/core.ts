// Benchmarks of the computation: ratios measured in one run, interleaved, medians of several rounds.
import { layerCosts } from "./layers";
import { graphLoad, liveLoad } from "./live";
import { processorCosts, renderAgainstFfmpeg, silenceAfterStroke } from "./processors";
import { save } from "./table";

renderAgainstFfmpeg();
silenceAfterStroke();
processorCosts();
liveLoad();
graphLoad();
layerCosts();
save("bench-core");
