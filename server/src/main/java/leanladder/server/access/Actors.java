package leanladder.server.access;

import java.util.Optional;

/**
 * Who asks. Until people sign in, everybody who asks this server is known by one name; clients that speak for people know a secret.
 *
 * @param clients what those clients must know
 */
public record Actors(String name, ClientSecret clients) {
    /** Everybody by one name, and no clients. */
    public static Actors named(String name) {
        return new Actors(name, new ClientSecret(Optional.empty()));
    }
}
