package leanladder.server.files;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.ZoneId;
import java.util.Optional;
import leanladder.demo.StarterEstate;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.state.Publisher;
import leanladder.server.state.Receipt;
import leanladder.server.state.Timeline;
import leanladder.store.Store;

/** The first estate of a company that has no estate file: its name, time zone and region, and a catalogue. */
public record StartRoutes(Store store, Timeline timeline, Publisher publisher) implements RouteGroup {
    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.post("/start", this::start, this::again, Receipt.class);
    }

    private Response again(long number) {
        return Response.of(Receipt.from(store.journal().change(number).orElseThrow()));
    }

    private Response start(RequestContext requestContext) throws IOException {
        JsonRequestBody body = requestContext.sent(Limits.ESTATE);
        Optional<ObjectNode> organisation = body.root()
                .required("organisation")
                .filter(JsonCursor::isObject)
                .map(o -> (ObjectNode) o.node());
        // An estate file with an unknown zone is read with a warning; a new estate must not begin with one.
        body.root()
                .member("organisation")
                .filter(o -> o.node().isObject())
                .flatMap(o -> o.member("timeZone"))
                .filter(zone ->
                        !ZoneId.getAvailableZoneIds().contains(zone.node().asText()))
                .ifPresent(zone -> zone.defect("is no time zone known here; use a name such as Europe/Lisbon"));
        Optional<ObjectNode> catalogue = body.root()
                .member("catalogue")
                .filter(c -> !c.node().isNull())
                .filter(JsonCursor::isObject)
                .map(c -> (ObjectNode) c.node());
        body.refuseDefects();
        if (!timeline.isEmpty())
            throw ProblemException.refused(
                    409,
                    "There is an estate",
                    "This database holds an estate already; nothing was changed. Edit it, or replace it with PUT /api/v1/estate.");
        String file = Json.write(StarterEstate.build(organisation.orElseThrow(), catalogue));
        try {
            return Response.of(Receipt.from(publisher.replace(
                    requestContext.writeRequest(),
                    new ByteArrayInputStream(file.getBytes(java.nio.charset.StandardCharsets.UTF_8)),
                    Optional.empty(),
                    "Started with " + (catalogue.isPresent() ? "the vendor's catalogue" : "the starter catalogue"))));
        } catch (InvalidEstateException e) {
            throw ProblemException.defects(422, "Not a valid start", e.defects());
        }
    }
}
