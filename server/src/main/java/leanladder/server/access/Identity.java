package leanladder.server.access;

import java.util.Optional;

/**
 * Who asks. Until people sign in, everybody who asks this server is known by one name; clients that speak for people know a secret.
 *
 * @param clients what those clients must know
 */
public record Identity(String name, ClientSecret clients) {
    /** Everybody by one name, and no clients. */
    public static Identity named(String name) {
        return new Identity(name, new ClientSecret(Optional.empty()));
    }
}
