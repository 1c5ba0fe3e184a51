package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.store.db.WriteRequest;
import leanladder.store.requests.FeatureRequest;
import org.junit.jupiter.api.Test;

/** What people ask for, as it is kept. */
class RequestTableTest {
    private static final Instant AT = Instant.parse("2026-11-25T12:00:00Z");

    private static long ask(Store store, String account, Optional<String> workspace) {
        return store.requests()
                .ask(
                        WriteRequest.by("client", AT),
                        account,
                        "chat.private",
                        workspace,
                        Json.NODES.booleanNode(true),
                        "please");
    }

    @Test
    void theSameIsOpenOnceAndAnsweredOnce() throws Exception {
        try (Store store = ThrowAwayPostgres.get().newStore("feature_requests")) {
            long first = ask(store, "a1", Optional.empty());
            assertThat(ask(store, "a1", Optional.empty())).isEqualTo(first);
            assertThat(ask(store, "a1", Optional.of("w1"))).isNotEqualTo(first);
            long other = ask(store, "a2", Optional.empty());
            assertThat(store.requests().open(0, 10)).hasSize(3);

            store.requests().decline(WriteRequest.by("Vera", AT), first, "Vera", "Not now.");
            store.requests().grant(WriteRequest.by("Ivo", AT), List.of(first, other), "Ivo", AT, 7);
            FeatureRequest declined = store.requests().find(first).orElseThrow();
            assertThat(declined.state()).isEqualTo(FeatureRequest.RequestState.DECLINED);
            assertThat(declined.sentence()).contains("Not now.");
            assertThat(declined.change()).isEmpty();
            FeatureRequest granted = store.requests().find(other).orElseThrow();
            assertThat(granted.state()).isEqualTo(FeatureRequest.RequestState.GRANTED);
            assertThat(granted.change()).contains(7L);
            assertThat(granted.answered()).contains(AT);

            long again = ask(store, "a1", Optional.empty());
            assertThat(again).isNotEqualTo(first);
            assertThat(store.requests().of("a1", 10))
                    .extracting(FeatureRequest::id)
                    .startsWith(again)
                    .contains(first);
            assertThat(store.requests().before(Long.MAX_VALUE, 1))
                    .extracting(FeatureRequest::id)
                    .containsExactly(again);
        }
    }
}
