package leanladder.server.state;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.server.TestClock;
import leanladder.server.draft.DraftService;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.db.WriteRequest;
import leanladder.store.drafts.Draft;
import leanladder.store.drafts.DraftTable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Those who publish do so one after the other, and nobody waits without an end. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class PublisherTest {
    private static final TestClock CLOCK = TestClock.standing(RandomEstate.NOW.toString());
    private static final Publisher.PublishOptions HOW = new Publisher.PublishOptions(
            "Ivo Tarn", "", p -> Json.NODES.objectNode(), Optional.empty(), Optional.empty());
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(), "publisher_test", Path.of("no-web"), Json.write(RandomEstate.json(7)), CLOCK);
    }

    @AfterAll
    static void stop() throws Exception {
        server.close();
    }

    private static WriteRequest request(String key) {
        return new WriteRequest(key, "Ivo Tarn", "", CLOCK.instant());
    }

    private static RebasedDraft proposal(Timeline timeline, String name) {
        JsonNode edit = Json.read("{\"kind\":\"add-group\",\"group\":{\"id\":\"" + name + "\",\"name\":\"" + name
                + "\",\"purpose\":\"access\",\"members\":[]}}");
        return timeline.rebasedDraft().with(List.of(new RebasedDraft.RequestedEdit(edit, timeline.change())), "", 0);
    }

    @Test
    void whoeverWaitsTooLongForOthersIsToldAndNothingIsStored() throws Exception {
        Timeline timeline = new Timeline(server.store(), CLOCK);
        Publisher publisher =
                new Publisher(server.store(), timeline, Duration.ofMillis(20), (after, number, edits) -> List.of());
        long before = server.store().journal().latest();
        CountDownLatch publishing = new CountDownLatch(1);
        CountDownLatch answered = new CountDownLatch(1);
        CompletableFuture<String> slow = CompletableFuture.supplyAsync(() -> publisher.exclusively(() -> {
            publishing.countDown();
            await(answered);
            return "done";
        }));
        await(publishing);
        assertThatThrownBy(() -> publisher.publish(request("other"), proposal(timeline, "other"), HOW, ready -> {}))
                .isInstanceOfSatisfying(
                        StateException.class, told -> assertThat(told.reason()).isEqualTo(StateException.Reason.BUSY))
                .hasMessageContaining("nothing of this was stored");
        assertThat(server.store().journal().latest()).isEqualTo(before);
        answered.countDown();
        assertThat(slow.get()).isEqualTo("done");
        // The same request is carried out once it is its turn.
        assertThat(publisher
                        .publish(request("other"), proposal(timeline, "other"), HOW, ready -> {})
                        .change()
                        .number())
                .isEqualTo(before + 1);
    }

    @Test
    void aDraftThatIsDueWhileTheServerIsBusyIsDueStillAndNotMarkedAsStuck() throws Exception {
        // The running server's own clock has not come to it.
        Instant due = CLOCK.instant().plusSeconds(60);
        Timeline later = new Timeline(
                server.store(), TestClock.standing(due.plusSeconds(1).toString()));
        Publisher busy = mock(Publisher.class);
        when(busy.publish(any(), any(), any(), any()))
                .thenThrow(new StateException(StateException.Reason.BUSY, "Try again."));
        DraftTable drafts = server.store().drafts();
        DraftService desk = new DraftService(drafts, later, busy);
        Draft planned = desk.begin(request("planned"), "Planned");
        desk.amend(request("plan"), planned, "Planned", "", Optional.of(due), Optional.empty());
        assertThatThrownBy(desk::publishDue).isInstanceOf(StateException.class);
        Draft still = drafts.find(planned.id()).orElseThrow();
        assertThat(still.due()).contains(due);
        assertThat(still.stuck()).isEmpty();
        drafts.discard(request("away"), still);
    }

    @Test
    void aScheduledDraftThatFailsForWhateverReasonIsMarkedAndTheNextIsPublishedAllTheSame() throws Exception {
        Instant due = CLOCK.instant().plusSeconds(60);
        Timeline later = new Timeline(
                server.store(), TestClock.standing(due.plusSeconds(1).toString()));
        Publisher failing = mock(Publisher.class);
        when(failing.publish(any(), any(), any(), any())).thenThrow(new IllegalStateException("A defect of ours"));
        DraftTable drafts = server.store().drafts();
        DraftService desk = new DraftService(drafts, later, failing);
        List<Draft> planned = new ArrayList<>();
        for (String name : List.of("first", "second")) {
            Draft draft = desk.begin(request(name), name);
            planned.add(draft);
            desk.amend(request("plan " + name), draft, name, "", Optional.of(due), Optional.empty());
        }
        desk.publishDue();
        for (Draft draft : planned) {
            Draft marked = drafts.find(draft.id()).orElseThrow();
            assertThat(marked.stuck()).hasValueSatisfying(why -> assertThat(why).contains("nothing was stored"));
            drafts.discard(request("away " + draft.id()), marked);
        }
    }

    private static void await(CountDownLatch latch) {
        try {
            assertThat(latch.await(1, TimeUnit.MINUTES)).isTrue();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
