package leanladder.server.http.protection;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/**
 * Reads a small body completely before a thread is assigned to the request. It uses as much memory as bytes have arrived, however small the pieces
 * are, so that thousands of bodies that never end fit into memory.
 */
final class BufferedBodyHandler extends Handler.Wrapper {
    /** Bytes that a small body holds at most. */
    private static final int MOST = 16 << 10;

    /** Whether a request says that it has a body that is larger than a small one, or does not say how large it is. */
    static boolean isLarger(Request request) {
        return request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING) || request.getLength() > MOST;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
        if (request.getLength() <= 0) return super.handle(request, response, callback);
        new BodyReader(request, response, callback).run();
        return true;
    }

    /** A body of which some has come. */
    private final class BodyReader implements Runnable {
        private final Request request;
        private final Response response;
        private final Callback callback;
        private final ByteArrayOutputStream come = new ByteArrayOutputStream();

        BodyReader(Request request, Response response, Callback callback) {
            this.request = request;
            this.response = response;
            this.callback = callback;
        }

        /** Goes on for as long as something is there, and is called again when more is. */
        @Override
        public void run() {
            for (boolean last = false; !last; ) {
                Content.Chunk chunk = request.read();
                if (chunk == null) {
                    request.demand(this);
                    return;
                }
                if (Content.Chunk.isFailure(chunk)) {
                    callback.failed(chunk.getFailure());
                    return;
                }
                take(chunk.getByteBuffer());
                last = chunk.isLast();
                chunk.release();
            }
            handle(new BufferedRequest(request, come.toByteArray()));
        }

        private void take(ByteBuffer bytes) {
            byte[] piece = new byte[bytes.remaining()];
            bytes.get(piece);
            come.writeBytes(piece);
        }

        private void handle(Request whole) {
            try {
                if (!BufferedBodyHandler.super.handle(whole, response, callback))
                    throw new IllegalStateException("A request was answered by nobody");
            } catch (Exception failure) {
                Response.writeError(whole, response, callback, failure);
            }
        }
    }

    /** A request whose body has come. */
    private static final class BufferedRequest extends Request.Wrapper {
        private final Content.Source body;

        BufferedRequest(Request request, byte[] body) {
            super(request);
            this.body = Content.Source.from(ByteBuffer.wrap(body));
        }

        @Override
        public Content.Chunk read() {
            return body.read();
        }

        @Override
        public void demand(Runnable more) {
            body.demand(more);
        }

        @Override
        public void fail(Throwable failure) {
            body.fail(failure);
            super.fail(failure);
        }
    }
}
