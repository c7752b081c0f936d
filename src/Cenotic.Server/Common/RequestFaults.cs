using System.Text.Json;
using Cenotic.Core.Common;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Common;

/// <summary>Answers with a sentence where a request asks for more than is worked out, or cannot be read, instead of a fault of the server.</summary>
public sealed class RequestFaults : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext http, Exception exception, CancellationToken cancellationToken)
    {
        var (status, says) = exception switch
        {
            WorkBudgetException => (
                StatusCodes.Status422UnprocessableEntity,
                "This is too much to work out: so many parts can be connected in more ways than are gone through. Split them over two nodes."
            ),
            TooBusyException => (StatusCodes.Status503ServiceUnavailable, exception.Message),
            MissingElementException => (StatusCodes.Status422UnprocessableEntity, exception.Message),
            // The reader of JSON says so of an element that does not name its kind.
            NotSupportedException { Source: "System.Text.Json" } => (StatusCodes.Status422UnprocessableEntity, "An element does not say of which kind it is."),
            BadHttpRequestException bad => (bad.StatusCode, Wrong(bad)),
            OperationCanceledException when http.RequestAborted.IsCancellationRequested => (StatusCodes.Status499ClientClosedRequest, ""),
            _ => (0, ""),
        };
        if (status == 0)
        {
            return false;
        }
        http.Response.StatusCode = status;
        if (says.Length > 0)
        {
            await TypedResults.Problem(says, statusCode: status).ExecuteAsync(http);
        }
        return true;
    }

    /// <summary>A refusal of what stands in one field of a form: the page shows it there.</summary>
    /// <param name="field">Its name in the request.</param>
    public static ProblemHttpResult At(string field, string says, int status = StatusCodes.Status422UnprocessableEntity) =>
        TypedResults.Problem(says, statusCode: status, extensions: new Dictionary<string, object?> { ["field"] = field });

    /// <summary>What is wrong in a request, with the field where the reader of JSON names it.</summary>
    private static string Wrong(BadHttpRequestException bad) =>
        bad.InnerException is JsonException { Path: { } path } fault ? $"{path}: {fault.Message.Split(" Path:")[0]}" : bad.Message;
}
