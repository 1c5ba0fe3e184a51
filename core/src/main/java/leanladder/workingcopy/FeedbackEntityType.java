package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Feedback;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;

/** What people found of releases. The word is the person's own; that it is dealt with is for others to say. */
final class FeedbackEntityType extends EntityType<Feedback> {
    FeedbackEntityType() {
        super("feedback", Section.FEEDBACK, Set.of("dealt"), Duty.PREVIEWS);
    }

    @Override
    public Optional<Feedback> find(Estate estate, String id) {
        return estate.feedback(id);
    }

    @Override
    public Optional<Feedback> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.feedback(jsonCursor);
    }

    @Override
    public String name(Feedback feedback) {
        return "a word on a release";
    }

    @Override
    public String idWords(ObjectNode body) {
        return body.path("release").asText() + " " + body.path("account").asText();
    }

    @Override
    public ObjectNode shortBody(Feedback feedback) {
        return feedback.source();
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on);
    }

    @Override
    public void checkNew(JsonCursor named, ObjectNode body, Overlay on) {
        named.member("release")
                .filter(r -> !on.hasRelease(r.node().asText()))
                .ifPresent(r -> unknown(r, "release", r.node().asText()));
        named.member("account")
                .filter(a -> !on.hasAccount(a.node().asText()))
                .ifPresent(a -> unknown(a, "account", a.node().asText()));
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofFeedback(id);
    }
}
