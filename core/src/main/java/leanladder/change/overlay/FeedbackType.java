package leanladder.change.overlay;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.Feedback;
import leanladder.estate.read.Parts;
import leanladder.estate.read.Section;
import leanladder.tell.Wording;

/** What people found of releases. The word is the person's own; that it is dealt with is for others to say. */
final class FeedbackType extends PartType<Feedback> {
    FeedbackType() {
        super("feedback", Section.FEEDBACK, Set.of("dealt"), Right.PREVIEWS);
    }

    @Override
    public Optional<Feedback> find(Estate estate, String id) {
        return estate.feedback(id);
    }

    @Override
    public Optional<Feedback> read(Place place, Overlay on) {
        return Parts.feedback(place);
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
    public void check(Place whole, Overlay on) {
        read(whole, on);
    }

    @Override
    public void checkNew(Place named, ObjectNode body, Overlay on) {
        named.member("release")
                .filter(r -> !on.hasRelease(r.node().asText()))
                .ifPresent(r -> unknown(r, "release", r.node().asText()));
        named.member("account")
                .filter(a -> !on.hasAccount(a.node().asText()))
                .ifPresent(a -> unknown(a, "account", a.node().asText()));
    }

    @Override
    public String newWords(ObjectNode body, Overlay on) {
        String release = ReleaseType.title(body.path("release").asText(), on);
        String found = switch (body.path("verdict").asText()) {
            case "works" -> " finds that " + release + " works";
            case "fails" -> " finds that " + release + " does not work";
            default -> " has an idea for " + release;
        };
        return on.name(ACCOUNT, body.path("account").asText()) + found;
    }

    @Override
    public String amendedWords(String member, JsonNode value, Overlay on, Wording wording) {
        return value.isNull() ? "is open again" : "is dealt with";
    }

    @Override
    public Footprint footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return Footprint.ofFeedback(id);
    }
}
