package leanladder.server.state;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import leanladder.RandomEstate;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomEdits;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.workingcopy.WriteSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Facets of snapshots that follow one another quickly. */
@Timeout(30)
class SnapshotTest {
    private static final Instant AT = Instant.parse("2026-11-20T08:00:00Z");

    /** The name of the first policy, made slowly, and followed without effort. */
    private static final class Slow implements DerivedIndex<String> {
        final AtomicInteger made = new AtomicInteger();
        final CountDownLatch begun = new CountDownLatch(1);
        final CountDownLatch go = new CountDownLatch(1);

        @Override
        public String compute(Snapshot snapshot) {
            made.incrementAndGet();
            begun.countDown();
            try {
                assertThat(go.await(20, TimeUnit.SECONDS)).isTrue();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
            return snapshot.estate().policies().get(0).name();
        }

        @Override
        public Optional<String> update(String before, Snapshot snapshot, WriteSet edits) {
            return Optional.of(
                    before + ", then " + snapshot.estate().policies().get(0).name());
        }
    }

    private final ObjectNode file;

    SnapshotTest() throws Exception {
        file = (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
    }

    private Snapshot renamed(Snapshot before, String name) {
        EditSession editSession = new EditSession(before.compiledEstate(), RandomEdits.bodies(file));
        ObjectNode edit = Json.NODES.objectNode().put("kind", "amend-policy").put("policy", "p1");
        edit.putObject("members").put("name", name);
        assertThat(editSession.apply(new JsonCursor(edit, "", new Defects()))).isPresent();
        return before.edited(
                editSession, before.compiledEstate().seatLedger(), Optional.empty(), before.change() + 1, AT, AT);
    }

    @Test
    void aFacetThatIsStillBeingMadeIsWaitedForAndFollowedAndNotMadeAnewAtEachChange() throws Exception {
        Snapshot first = new Snapshot(1, AT, new CompiledEstate(RandomEstate.read(file)));
        String was = first.estate().policies().get(0).name();
        Slow slow = new Slow();
        CompletableFuture<String> making = CompletableFuture.supplyAsync(() -> first.get(slow));
        assertThat(slow.begun.await(20, TimeUnit.SECONDS)).isTrue();
        Snapshot second = renamed(first, "Two");
        Snapshot third = renamed(second, "Three");
        CompletableFuture<String> asked = CompletableFuture.supplyAsync(() -> third.get(slow));
        slow.go.countDown();
        assertThat(making.get(20, TimeUnit.SECONDS)).isEqualTo(was);
        assertThat(asked.get(20, TimeUnit.SECONDS)).isEqualTo(was + ", then Two, then Three");
        assertThat(slow.made).hasValue(1);
    }

    @Test
    void aFacetThatFailsIsToldToWhoeverAsksAndMadeAnewTheNextTime() {
        Snapshot snapshot = new Snapshot(1, AT, new CompiledEstate(RandomEstate.read(file)));
        AtomicInteger tries = new AtomicInteger();
        DerivedIndex<String> brittle = s -> {
            if (tries.incrementAndGet() == 1) throw new IllegalStateException("not yet");
            return "made";
        };
        assertThatThrownBy(() -> snapshot.get(brittle)).hasMessage("not yet");
        assertThat(snapshot.get(brittle)).isEqualTo("made");
    }

    /** What begins at the very instant of the edit is an edge of time; answers for now were discarded across it. */
    @Test
    void whatAConsentGivenNowCannotTouchIsKeptAndWhatItTouchesIsRight() {
        Snapshot before = new Snapshot(1, AT, new CompiledEstate(RandomEstate.read(file)));
        Instant now = AT.plusSeconds(60);
        before.resolutionAt(EvaluationContext.at(now)).columnResolver().all();
        EditSession editSession = new EditSession(before.compiledEstate(), RandomEdits.bodies(file));
        ObjectNode edit = Json.NODES
                .objectNode()
                .put("kind", "give-consent")
                .put("account", "a2")
                .put("ring", "dry-dock")
                .put("at", now.toString());
        Defects defects = new Defects();
        editSession.apply(new JsonCursor(edit, "", defects));
        assertThat(defects.all()).isEmpty();
        Snapshot after =
                before.edited(editSession, before.compiledEstate().seatLedger(), Optional.empty(), 2, now, now);
        ColumnResolver kept = after.resolutionAt(EvaluationContext.at(now)).columnResolver();
        ColumnResolver fresh = new ColumnResolver(after.compiledEstate(), EvaluationContext.at(now));
        AtomicInteger same = new AtomicInteger();
        after.estate().catalogue().settings().keySet().forEach(key -> {
            assertThat(kept.column(key).inForce())
                    .as(key)
                    .isEqualTo(fresh.column(key).inForce());
            if (kept.column(key)
                    == before.resolutionAt(EvaluationContext.at(now))
                            .columnResolver()
                            .column(key)) same.incrementAndGet();
        });
        assertThat(same).hasValueGreaterThan(0);
        assertThat(kept.releases().consentedTo(0)).isEqualTo(fresh.releases().consentedTo(0));
    }
}
