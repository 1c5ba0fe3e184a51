package leanladder.server.search;

import java.util.Optional;
import leanladder.change.overlay.Footprint;
import leanladder.server.live.Facet;
import leanladder.server.live.Snapshot;

/** The index of a snapshot; after edits, that of the one before with what they touch. */
public record SearchFacet() implements Facet<SearchIndex> {
    @Override
    public SearchIndex of(Snapshot snapshot) {
        return new SearchIndex(snapshot.estate());
    }

    @Override
    public Optional<SearchIndex> after(SearchIndex before, Snapshot snapshot, Footprint edits) {
        return before.after(snapshot.estate(), edits);
    }
}
