package leanladder.server.access;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Optional;
import leanladder.server.http.ProblemException;
import leanladder.server.http.RequestContext;

/** What a client that speaks for people must know, such as the suite; until there are tokens, one secret for all of them. */
public record ClientSecret(Optional<String> secret) {
    private static final String BEARER = "Bearer ";

    /** Refuses a call that does not bring the secret. */
    public void check(RequestContext requestContext) {
        check(requestContext.header("Authorization"));
    }

    /** The same of the header Authorization. */
    public void check(Optional<String> authorization) {
        String sent = authorization.filter(h -> h.startsWith(BEARER)).orElse("");
        boolean right = secret.isPresent()
                && MessageDigest.isEqual(
                        sent.getBytes(StandardCharsets.UTF_8),
                        (BEARER + secret.get()).getBytes(StandardCharsets.UTF_8));
        if (!right)
            throw ProblemException.refused(
                    401,
                    "Not a client",
                    "Here clients speak for people, and they send the client's secret as a bearer token;"
                            + " ./ladder up writes it into the file client.secret of its home.");
    }

    /** What a call brings to those who know the same secret. */
    public String bearer() {
        return BEARER + secret.orElse("");
    }

    /** Never tells it. */
    @Override
    public String toString() {
        return "ClientSecret";
    }
}
