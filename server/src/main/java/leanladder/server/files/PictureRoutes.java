package leanladder.server.files;

import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.read.PictureContent;
import leanladder.server.http.BinaryResponse;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.store.Store;

/** The contents of pictures that values name: one is sent first, then an edit names it by the hash that is answered. */
public record PictureRoutes(Store store) implements RouteGroup {
    private static final String SVG = "image/svg+xml";
    private static final String ALONE = "default-src 'none'; style-src 'unsafe-inline'; sandbox";

    /**
     * A picture that is stored.
     *
     * @param sha256 by which values name it
     * @param media its media type, by what stands in it
     * @param bytes how long it is as it is stored
     */
    public record StoredPicture(String sha256, String media, int bytes) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.post("/pictures", this::add, this::again, StoredPicture.class);
        routeRegistry.get("/pictures/{sha256}", this::content);
    }

    private Response add(RequestContext requestContext) throws IOException {
        requestContext.query(Set.of());
        byte[] content;
        try (InputStream body = requestContext.body(Limits.PICTURE)) {
            content = body.readAllBytes();
        }
        if (PictureContent.media(content).equals(Optional.of(SVG))) content = SvgSanitizer.sanitize(content);
        PictureContent.problem(content).ifPresent(problem -> {
            throw ProblemException.refused(
                    422, "Not a picture that can be used", "The picture " + problem + ". Nothing was stored.");
        });
        store.pictures().put(requestContext.writeRequest(), content);
        return stored(PictureContent.sha256(content), content);
    }

    private Response again(long number) {
        String sha256 = store.pictures().sha256(number).orElseThrow();
        return stored(sha256, store.pictures().content(sha256).orElseThrow());
    }

    private static Response stored(String sha256, byte[] content) {
        return Response.created(
                new StoredPicture(sha256, PictureContent.media(content).orElseThrow(), content.length),
                RouteRegistry.ROOT + "/pictures/" + sha256);
    }

    /** What a hash names never alters, so whoever has it may keep it. */
    private Response content(RequestContext requestContext) {
        requestContext.query(Set.of());
        String sha256 = requestContext.path("sha256");
        byte[] content = store.pictures()
                .content(sha256)
                .orElseThrow(() -> ProblemException.unknown("There is no picture \"" + sha256 + "\"."));
        return Response.of(new BinaryResponse(PictureContent.media(content).orElseThrow(), content))
                .with("Cache-Control", "public, max-age=31536000, immutable")
                .with("Content-Security-Policy", ALONE);
    }
}
