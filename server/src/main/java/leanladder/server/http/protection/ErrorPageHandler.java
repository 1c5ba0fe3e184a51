package leanladder.server.http.protection;

import java.nio.charset.StandardCharsets;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.ProblemException;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.handler.ErrorHandler;
import org.eclipse.jetty.util.Callback;

/** What the web server itself refuses, before any route is looked for, told like every other problem (RFC 9457). */
public final class ErrorPageHandler extends ErrorHandler {
    @Override
    public boolean handle(Request request, Response response, Callback callback) {
        if (response.getStatus() < HttpStatus.BAD_REQUEST_400) response.setStatus(HttpStatus.INTERNAL_SERVER_ERROR_500);
        response.getHeaders().put(new HttpField(HttpHeader.CONTENT_TYPE, "application/problem+json"));
        response.getHeaders().put(new HttpField(HttpHeader.CACHE_CONTROL, "no-store"));
        if (response.getStatus() == HttpStatus.SERVICE_UNAVAILABLE_503)
            response.getHeaders().put(HttpHeader.RETRY_AFTER, "1");
        Content.Sink.write(response, true, text(response.getStatus()), callback);
        return true;
    }

    @Override
    public boolean errorPageForMethod(String method) {
        return true;
    }

    private static String text(int status) {
        String title = HttpStatus.getMessage(status);
        String detail = switch (status) {
            case 400 -> "The request cannot be read: its address or its headers are not well-formed.";
            case 414 -> "The address is too long; send what you ask for in parts.";
            case 431 -> "The headers are too long.";
            case 503 -> "The server is busy. Try again in a moment.";
            default -> "The server could not answer; nothing was stored.";
        };
        return new String(
                JsonWriter.write(ProblemException.refused(status, title, detail).details()), StandardCharsets.UTF_8);
    }
}
