package leanladder.server.search;

import java.util.Optional;
import leanladder.server.state.DerivedIndex;
import leanladder.server.state.Snapshot;
import leanladder.workingcopy.WriteSet;

/** The index of a snapshot; after edits, that of the one before with what they touch. */
public record SearchIndexDefinition() implements DerivedIndex<SearchIndex> {
    @Override
    public SearchIndex compute(Snapshot snapshot) {
        return new SearchIndex(snapshot.estate());
    }

    @Override
    public Optional<SearchIndex> update(SearchIndex before, Snapshot snapshot, WriteSet edits) {
        return before.update(snapshot.estate(), edits);
    }
}
